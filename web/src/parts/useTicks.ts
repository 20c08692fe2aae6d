import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";

import { client, movedTo, type Ticks as Ticked, unwrap } from "../api/client";
import { type CardOf, cardQuery, historyQuery } from "../api/queries";
import { today } from "./format";

interface Ticks {
  done: ReadonlySet<string>;
  toggle: (step: string) => void;
  clear: () => void;
  error: Error | null;
}

/** What is done to a list of steps, and what it makes of the one that is shown. */
interface Change {
  upon: (steps: string[]) => string[];
  after: string[];
}

/** What is ticked off of a rig today, kept with the collection. */
export function useTicks(rig: Omit<CardOf, "day">): Ticks {
  const queries = useQueryClient();
  const asked = { ...rig, day: today() };
  const card = cardQuery(asked);
  const ticked = useQuery(card).data?.ticked;
  const done = useMemo(() => new Set(ticked), [ticked]);
  const keep = useMutation({
    mutationFn: async (change: Change) => {
      const put = async (steps: string[], version: number) =>
        unwrap(await client.PUT("/api/v1/cards", { body: { ...asked, ticked: steps, version } }));
      const standing = queries.getQueryData<Ticked>(card.queryKey);
      try {
        return await put(change.after, standing?.version ?? 0);
      } catch (error) {
        // What was ticked in another window stays ticked.
        const moved = movedTo(error);
        if (!moved) throw error;
        return await put(change.upon((moved.current as Ticked).ticked), moved.version);
      }
    },
    // Ticked at once; what the server does not keep is taken back.
    onMutate: ({ after }) => {
      const before = queries.getQueryData<Ticked>(card.queryKey);
      queries.setQueryData(card.queryKey, { day: asked.day, ticked: after, version: before?.version ?? 0 });
      return before;
    },
    onError: (_, __, before) => {
      queries.setQueryData(card.queryKey, before);
      // Taken back in another window: what stands now is shown.
      return queries.invalidateQueries({ queryKey: card.queryKey });
    },
    onSuccess: (kept) => {
      queries.setQueryData(card.queryKey, kept);
      return queries.invalidateQueries({ queryKey: historyQuery.queryKey });
    },
    scope: { id: JSON.stringify(card.queryKey) },
  });
  const change = (upon: Change["upon"]) => {
    keep.mutate({ upon, after: upon([...done]) });
  };
  return {
    done,
    toggle: (step) => {
      const off = done.has(step);
      change((steps) => [...steps.filter((one) => one !== step), ...(off ? [] : [step])]);
    },
    clear: () => {
      change(() => []);
    },
    error: keep.error,
  };
}
