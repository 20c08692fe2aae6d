import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";

import { client, unwrap } from "../api/client";
import { type CardOf, cardQuery, historyQuery } from "../api/queries";
import { today } from "./format";

interface Ticks {
  done: ReadonlySet<string>;
  toggle: (step: string) => void;
  clear: () => void;
  error: Error | null;
}

/** What is ticked off of a rig today, kept with the collection. */
export function useTicks(rig: Omit<CardOf, "day">): Ticks {
  const queries = useQueryClient();
  const asked = { ...rig, day: today() };
  const card = cardQuery(asked);
  const ticked = useQuery(card).data?.ticked;
  const done = useMemo(() => new Set(ticked), [ticked]);
  const keep = useMutation({
    mutationFn: async (steps: string[]) =>
      unwrap(await client.PUT("/api/v1/cards", { body: { ...asked, ticked: steps } })),
    // Ticked at once; what the server does not keep is taken back.
    onMutate: (steps) => {
      const before = queries.getQueryData(card.queryKey);
      queries.setQueryData(card.queryKey, { day: asked.day, ticked: steps });
      return before;
    },
    onError: (_, __, before) => {
      queries.setQueryData(card.queryKey, before);
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: historyQuery.queryKey }),
    scope: { id: card.queryKey.join(" ") },
  });
  return {
    done,
    toggle: (step) => {
      keep.mutate(done.has(step) ? [...done].filter((one) => one !== step) : [...done, step]);
    },
    clear: () => {
      keep.mutate([]);
    },
    error: keep.error,
  };
}
