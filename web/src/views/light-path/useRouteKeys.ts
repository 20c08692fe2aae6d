import { useCallback } from "react";

import type { Keys } from "../../app/screen";
import type { Address, Change } from "../../app/useAddress";
import { print } from "../../parts/Printed";
import { orderOf } from "./groups";
import type { usePair } from "./usePair";
import { viaOf } from "../../parts/rig";

/** Moving through the routes, comparing two, and the keys that do it. */
export function useRouteKeys(
  address: Address,
  go: (change: Change, replace?: boolean) => void,
  { report, route, chosen }: ReturnType<typeof usePair>,
) {
  const choose = useCallback(
    (index: number, replace = false) => {
      const next = report?.routes[index];
      if (next) go({ via: viaOf(next.adapters) }, replace);
    },
    [report, go],
  );
  const compare = useCallback(
    (via: string) => {
      go({ beside: address.beside === via ? null : via });
    },
    [address.beside, go],
  );
  const move = (step: number) => {
    if (!report) return;
    const order = orderOf(report);
    const place = order.indexOf(Math.max(chosen, 0)) + step;
    // Stepping through the routes is one step back, choosing one by hand another.
    choose(order[Math.min(Math.max(place, 0), order.length - 1)] ?? 0, address.via !== null);
  };
  const keys: Keys = {
    ArrowDown: () => {
      move(1);
    },
    ArrowUp: () => {
      move(-1);
    },
    Home: () => {
      choose(0);
    },
    c: () => {
      if (address.beside !== null) go({ beside: null });
      else if (report && route) {
        const next = report.routes[chosen > 0 ? 0 : 1];
        if (next) go({ beside: viaOf(next.adapters) });
      }
    },
    u: () => {
      go({ everything: !address.everything, via: null });
    },
    k: () => {
      print("card");
    },
  };
  return { keys, choose, compare };
}
