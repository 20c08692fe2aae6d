import { useCallback } from "react";

import type { Keys } from "../../app/screen";
import type { Address, Change } from "../../app/useAddress";
import { orderOf } from "./groups";
import type { usePair } from "./usePair";

/** Moving through the routes, comparing two, and the keys that do it. */
export function useRouteKeys(
  address: Address,
  go: (change: Change, replace?: boolean) => void,
  { report, route, chosen }: ReturnType<typeof usePair>,
) {
  const choose = useCallback(
    (index: number) => {
      const next = report?.routes[index];
      if (next) go({ via: next.adapters.join(",") }, true);
    },
    [report, go],
  );
  const compare = useCallback(
    (via: string) => {
      go({ beside: address.beside === via ? null : via }, true);
    },
    [address.beside, go],
  );
  const move = (step: number) => {
    if (!report) return;
    const order = orderOf(report);
    const place = order.indexOf(Math.max(chosen, 0)) + step;
    choose(order[Math.min(Math.max(place, 0), order.length - 1)] ?? 0);
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
      if (address.beside !== null) go({ beside: null }, true);
      else if (report && route) {
        const next = report.routes[chosen > 0 ? 0 : 1];
        if (next) go({ beside: next.adapters.join(",") }, true);
      }
    },
    u: () => {
      go({ everything: !address.everything, via: null }, true);
    },
    k: () => {
      window.print();
    },
  };
  return { keys, choose, compare };
}
