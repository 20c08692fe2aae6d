import { useCallback, useLayoutEffect, useMemo, useRef } from "react";
import { useSearchParams } from "react-router";

import { type Chosen, practiceOf, writePractice } from "./practice";
import { usePractices } from "./Practices";

export interface Address {
  lens: string | null;
  body: string | null;
  /** The chosen chain, lens to body; "" is bare, null the best. */
  via: string | null;
  /** The chain it is compared with. */
  beside: string | null;
  practice: Chosen;
  /** With the routes that another beats in everything. */
  everything: boolean;
  /** Nothing is named: a fresh start. */
  fresh: boolean;
}

export interface Change {
  lens?: string | null;
  body?: string | null;
  via?: string | null;
  beside?: string | null;
  practice?: Chosen;
  everything?: boolean;
}

/** The address bar holds the whole question: any answer can be kept and sent. */
export function useAddress(): [Address, (change: Change, replace?: boolean) => void] {
  const [parameters, setParameters] = useSearchParams();
  const practices = usePractices();
  // The same practice is the same object, so that what depends on it alone need not be drawn again.
  const said = JSON.stringify(practiceOf(parameters, practices));
  const practice = useMemo(() => JSON.parse(said) as Chosen, [said]);
  const latest = useRef(setParameters);
  useLayoutEffect(() => {
    latest.current = setParameters;
  }, [setParameters]);
  const address = useMemo<Address>(
    () => ({
      lens: parameters.get("lens"),
      body: parameters.get("body"),
      via: parameters.get("via"),
      beside: parameters.get("beside"),
      practice,
      everything: parameters.get("all") === "1",
      fresh: !parameters.has("lens") && !parameters.has("body"),
    }),
    [parameters, practice],
  );
  const go = useCallback(
    (change: Change, replace = false) => {
      latest.current(
        (before) => {
          const next = new URLSearchParams(before);
          for (const key of ["lens", "body", "via", "beside"] as const) {
            const value = change[key];
            if (value === undefined) continue;
            if (value === null) next.delete(key);
            else next.set(key, value);
          }
          if (change.lens !== undefined || change.body !== undefined) next.delete("beside");
          if (change.everything === true) next.set("all", "1");
          else if (change.everything === false || change.lens !== undefined || change.body !== undefined)
            next.delete("all");
          if (change.practice) writePractice(next, change.practice, practices);
          return next;
        },
        { replace },
      );
    },
    [practices],
  );
  return [address, go];
}
