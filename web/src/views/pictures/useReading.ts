import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { client, unwrap } from "../../api/client";
import { type ReadingWork, readingQuery } from "../../api/logQueries";
import { about } from "../../api/queries";

/** Long work on a folder: begun, looked after, stopped; what it changes is asked for anew once it ends. */
export function useReading<Asked = void>(
  begin: (asked: Asked) => Promise<{ data?: ReadingWork }>,
  changes: readonly string[],
) {
  const queries = useQueryClient();
  const [id, setId] = useState("");
  const work = useQuery(readingQuery(id));
  const start = useMutation({
    mutationFn: async (asked: Asked) => unwrap(await begin(asked)),
    onSuccess: (begun) => setId(begun.id),
  });
  const stop = useMutation({
    mutationFn: () => client.DELETE("/api/v1/log/readings/{id}", { params: { path: { id } } }),
  });
  const state = id === "" ? undefined : work.data?.state;
  const said = changes.join(" ");
  useEffect(() => {
    if (state !== undefined && state !== "working")
      void queries.invalidateQueries({ predicate: about(...said.split(" ")) });
  }, [state, id, queries, said]);
  return {
    work: id === "" ? undefined : work.data,
    working: start.isPending || (id !== "" && (state === undefined || state === "working") && !work.error),
    error: start.error ?? work.error,
    start: (asked: Asked) => start.mutate(asked),
    stop: () => stop.mutate(),
  };
}
