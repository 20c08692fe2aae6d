import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo } from "react";

import { client, type Start, unwrap } from "../api/client";
import { startQuery } from "../api/queries";
import { Failed } from "../parts/Failed";
import { learn } from "../parts/words";
import { deedsFor } from "../pocket/deeds";
import { type Chosen, type Practices, usualOf } from "./practice";

const PracticesContext = createContext<(Practices & { start: Start }) | null>(null);

/** Asks once for what every screen needs: what there is to choose, and one's own practice. */
export function PracticesProvider({ children }: { children: ReactNode }) {
  const queries = useQueryClient();
  const start = useQuery(startQuery);
  const { mutate } = useMutation({
    mutationFn: async (practice: Chosen) => unwrap(await client.PUT("/api/v1/practice", { body: practice })),
  });
  const keep = useCallback(
    (next: Chosen) => {
      queries.setQueryData(startQuery.queryKey, (before) => (before ? { ...before, practice: next } : before));
      mutate(next);
    },
    [queries, mutate],
  );
  const value = useMemo(() => {
    if (!start.data) return null;
    learn(start.data.glossary);
    const usual = usualOf(start.data.choices);
    return {
      choices: start.data.choices,
      usual,
      own: { ...usual, ...start.data.practice },
      keep,
      start: start.data,
    };
  }, [start.data, keep]);
  const collection = start.data?.collection;
  useEffect(() => {
    if (collection !== undefined) deedsFor(collection);
  }, [collection]);
  if (value) return <PracticesContext value={value}>{children}</PracticesContext>;
  return (
    <main className="page" aria-busy={!start.isError}>
      {start.isError && <Failed error={start.error} onRetry={() => void start.refetch()} />}
    </main>
  );
}

/** What there is to choose, one's own practice, and how the collection begins. */
export function usePractices() {
  const value = useContext(PracticesContext);
  if (!value) throw new Error("practices are asked for outside of their provider");
  return value;
}
