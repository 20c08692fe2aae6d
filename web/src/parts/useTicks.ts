import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";

import { AwayError, client, movedTo, type Ticks as Ticked, unwrap } from "../api/client";
import { type CardOf, cardQuery, historyQuery } from "../api/queries";
import { doDeed, newDeed, onSent } from "../pocket/deeds";
import { useDeeds } from "../pocket/hooks";
import type { Deed } from "../pocket/store";
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
  before: readonly string[];
  after: string[];
}

/** A list of steps after a deed, where it is one of this card. */
function upon(steps: string[], deed: Deed, { lens, body, adapters, day }: CardOf): string[] {
  if (deed.kind !== "tick" || deed.lens !== lens || deed.body !== body) return steps;
  if (deed.adapters !== adapters || deed.day !== day) return steps;
  const others = steps.filter((one) => one !== deed.step);
  return deed.on ? [...others, deed.step] : others;
}

/** Nobody answers: each tick waits, to be sent with its own time. */
async function later(asked: CardOf, { before, after }: Change, standing: Ticked | undefined): Promise<Ticked> {
  for (const step of after.filter((one) => !before.includes(one)))
    await doDeed({ kind: "tick", ...newDeed(), ...asked, step, on: true });
  for (const step of before.filter((one) => !after.includes(one)))
    await doDeed({ kind: "tick", ...newDeed(), ...asked, step, on: false });
  return standing ?? { day: asked.day, ticked: [], version: 0 };
}

/** What is ticked off of a rig today, kept with the collection. */
export function useTicks(rig: Omit<CardOf, "day">): Ticks {
  const queries = useQueryClient();
  const { lens, body, adapters } = rig;
  const day = today();
  const asked = useMemo(() => ({ lens, body, adapters, day }), [lens, body, adapters, day]);
  const card = cardQuery(asked);
  const ticked = useQuery(card).data?.ticked;
  const waiting = useDeeds();
  // What was ticked while nobody answered goes upon what stands, in its order.
  const done = useMemo(
    () => new Set((waiting ?? []).reduce((steps, { deed }) => upon(steps, deed, asked), ticked ?? [])),
    [ticked, waiting, asked],
  );
  useEffect(
    () => onSent((deed) => (deed.kind === "tick" ? queries.invalidateQueries({ queryKey: card.queryKey }) : undefined)),
    [queries, card.queryKey],
  );
  const keep = useMutation({
    mutationFn: async (change: Change) => {
      const put = async (steps: string[], version: number) =>
        unwrap(await client.PUT("/api/v1/cards", { body: { ...asked, ticked: steps, version } }));
      const standing = queries.getQueryData<Ticked>(card.queryKey);
      try {
        return await put(change.after, standing?.version ?? 0);
      } catch (error) {
        if (error instanceof AwayError) return later(asked, change, standing);
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
  const change = (does: Change["upon"]) => {
    const before = [...done];
    keep.mutate({ upon: does, before, after: does(before) });
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
