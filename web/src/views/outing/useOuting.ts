import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { client, movedTo, type OutingPage, type OutingWritten, unwrap } from "../../api/client";
import { historyQuery, outingQuery, outingsQuery } from "../../api/queries";
import { contested, merged } from "./merge";

/** An outing and its changes, one after another, each upon the version that is shown. */
export function useOuting(id: string) {
  const queries = useQueryClient();
  const options = outingQuery(id);
  const page = useQuery(options);
  const keep = useMutation({
    mutationFn: async (changed: Partial<OutingWritten>) => {
      const standing = queries.getQueryData<OutingPage>(options.queryKey);
      if (!standing) throw new Error("it is not loaded yet");
      const put = async (outing: OutingWritten, version: number) =>
        unwrap(await client.PUT("/api/v1/outings/{id}", { params: { path: { id } }, body: { outing, version } }));
      try {
        return await put({ ...standing.outing, ...changed }, standing.version);
      } catch (error) {
        const moved = movedTo(error);
        const theirs = moved?.current as OutingWritten | undefined;
        if (!moved || !theirs || contested(standing.outing, theirs, changed).length > 0) throw error;
        // What the other window changed is not what we did: both stand.
        return await put(merged(standing.outing, theirs, changed), moved.version);
      }
    },
    onSuccess: (found) => {
      queries.setQueryData(options.queryKey, found);
      void queries.invalidateQueries({ queryKey: outingsQuery.queryKey, exact: true });
      return queries.invalidateQueries({ queryKey: historyQuery.queryKey });
    },
    scope: { id: `outing ${id}` },
  });
  return {
    page: page.data,
    error: page.error,
    refused: keep.error,
    /** What was wanted and refused, and what stands in its place. */
    wanted: keep.error ? keep.variables : undefined,
    again: () => {
      keep.reset();
      void page.refetch();
    },
    change: (changed: Partial<OutingWritten>) => {
      keep.mutate(changed);
    },
    /** Upon what the other window wrote. */
    insist: async (changed: Partial<OutingWritten>) => {
      await page.refetch();
      keep.mutate(changed);
    },
  };
}
