import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";

import type { PieceOf } from "../../../api/benchQueries";
import { client, unwrap } from "../../../api/client";

interface Done {
  do: "state" | "jaws" | "place" | "read" | "closed";
  value?: number;
}

/** The simulated caliper about one length of a piece: its jaws follow the hand and stop where they touch. */
export function useCaliper({ kind, id, quantity }: PieceOf & { quantity: string }, on: boolean) {
  const queries = useQueryClient();
  const queryKey = ["bench", "caliper", kind, id, quantity];
  const [wanted, setWanted] = useState<number | null>(null);
  const waiting = useRef<number | null>(null);
  const busy = useRef(false);
  const post = async (done: Done) =>
    unwrap(
      await client.POST("/api/v1/bench/caliper", {
        params: { query: { kind, id, quantity } },
        body: { do: done.do, value: done.value ?? null },
      }),
    );
  const standing = useQuery({ queryKey, queryFn: () => post({ do: "state" }), enabled: on, retry: false });
  const work = useMutation({
    mutationFn: post,
    onSuccess: (found) => queries.setQueryData(queryKey, found),
  });
  const send = async (done: Done) => {
    try {
      return await work.mutateAsync(done);
    } catch {
      // What it refused is told beside it.
      return null;
    }
  };
  const move = async (mm: number) => {
    setWanted(mm);
    waiting.current = mm;
    if (busy.current) return;
    busy.current = true;
    // Only the latest place is sent: a slow line does not lag behind the hand.
    while (waiting.current !== null) {
      const value = waiting.current;
      waiting.current = null;
      await send({ do: "jaws", value });
    }
    busy.current = false;
    setWanted(null);
  };
  const state = standing.data?.state ?? null;
  return {
    state,
    // Between two answers the jaws follow the hand, and never through the piece.
    openingMm: state === null ? null : wanted === null || state.touching ? state.opening_mm : wanted,
    error: work.error ?? standing.error,
    move: (mm: number) => void move(mm),
    place: (deg: number) => void send({ do: "place", value: deg }),
    read: async () => (await send({ do: "read" }))?.reading_mm ?? null,
    zero: async () => (await send({ do: "closed" }))?.reading_mm ?? null,
  };
}
