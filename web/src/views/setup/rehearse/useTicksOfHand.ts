import { useState } from "react";

/** What is ticked off in a rehearsal because no camera can tell. */
export function useTicksOfHand() {
  const [done, setDone] = useState<ReadonlySet<number>>(new Set());
  return {
    done,
    toggle: (number: number) => {
      const next = new Set(done);
      if (!next.delete(number)) next.add(number);
      setDone(next);
    },
    clear: () => setDone(new Set()),
  };
}
