import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { client, type OutingPage, type OutingWritten, unwrap } from "../../api/client";
import { historyQuery, outingQuery, outingsQuery } from "../../api/queries";

/** An outing and its changes, one after another, each upon the version that is shown. */
export function useOuting(id: string) {
  const queries = useQueryClient();
  const options = outingQuery(id);
  const page = useQuery(options);
  const keep = useMutation({
    mutationFn: async (changed: Partial<OutingWritten>) => {
      const standing = queries.getQueryData<OutingPage>(options.queryKey);
      if (!standing) throw new Error("it is not loaded yet");
      const outing = { ...standing.outing, ...changed };
      const params = { path: { id } };
      return unwrap(
        await client.PUT("/api/v1/outings/{id}", { params, body: { outing, version: standing.version } }),
      );
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
    again: () => {
      keep.reset();
      void page.refetch();
    },
    change: (changed: Partial<OutingWritten>) => {
      keep.mutate(changed);
    },
  };
}
