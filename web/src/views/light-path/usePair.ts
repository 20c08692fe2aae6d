import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";

import type { MatchReport } from "../../api/client";
import { matchQuery, type Question } from "../../api/queries";
import type { Chosen } from "../../app/practice";
import type { Address } from "../../app/useAddress";
import { viaOf } from "../../parts/rig";
import { orderOf } from "./groups";

const NOBODY = { lens: "", body: "" };

/** The routes of the pair in the address, the one that is looked at, and the one that it is compared with. */
export function usePair(address: Address) {
  const question: Question | null =
    address.lens !== null && address.body !== null
      ? { lens: address.lens, body: address.body, practice: address.practice, everything: address.everything }
      : null;
  const asked = question ?? { ...NOBODY, practice: address.practice };
  const all = useQuery({
    ...matchQuery(asked),
    enabled: question !== null,
    // The last drawing stays until the next one is there.
    placeholderData: keepPreviousData,
  });
  const there = question !== null && all.isSuccess && !all.isPlaceholderData;
  const list = all.data;
  const known = indexOf(list, address.via);
  const open = useRoute(asked, address.via ?? firstOf(list), list, there);
  const isByHand = known < 0 && address.via !== null;
  const report = useMemo(() => merged(list, open.data, isByHand), [list, open.data, isByHand]);
  const chosen = address.via === null ? 0 : known >= 0 ? known : open.data ? 0 : -1;
  const beside = useRoute(asked, address.beside, list, there);
  const both = useMemo(
    () => (report && beside.data ? { ...report, pieces: { ...beside.data.pieces, ...report.pieces } } : report),
    [report, beside.data],
  );
  useNeighbours(asked, list, chosen, there);
  return {
    question,
    all,
    error: all.error ?? open.error,
    report,
    route: useLast(report),
    chosen,
    isByHand: isByHand || chosen < 0,
    settled: there && (address.via === null || open.data !== undefined),
    beside: address.beside === null ? undefined : (beside.data?.open ?? undefined),
    both,
  };
}

const indexOf = (report: MatchReport | undefined, via: string | null) =>
  report?.routes.findIndex((route) => viaOf(route.adapters) === via) ?? -1;

const firstOf = (report: MatchReport | undefined) => (report?.routes[0] ? viaOf(report.routes[0].adapters) : null);

/** A route in full: the first comes with the list, another one, found or put together by hand, by itself. */
function useRoute(asked: Question, via: string | null, list: MatchReport | undefined, enabled: boolean) {
  const first = indexOf(list, via) === 0;
  const wanted = enabled && via !== null && !first;
  const { data, error } = useQuery({ ...matchQuery({ ...asked, via: via ?? "" }), enabled: wanted });
  return first ? { data: list, error: null } : { data: wanted ? data : undefined, error };
}

/** The route that is looked at; the last one until it is there. */
function useLast(report: MatchReport | undefined) {
  const [last, setLast] = useState<{ pair: string; route: MatchReport["open"] }>({ pair: "", route: null });
  const pair = report ? `${report.lens} ${report.body}` : "";
  const route = report?.open ?? (last.pair === pair ? last.route : null);
  if (route && route !== last.route) setLast({ pair, route });
  return route ?? undefined;
}

/** The routes above and below the one that is open are there before they are asked for. */
function useNeighbours(asked: Question, list: MatchReport | undefined, chosen: number, enabled: boolean) {
  const queries = useQueryClient();
  useEffect(() => {
    if (!enabled || !list) return;
    const order = orderOf(list);
    const place = order.indexOf(Math.max(chosen, 0));
    for (const step of [1, -1]) {
      const next = order[place + step];
      const route = next ? list.routes[next] : undefined;
      // One that cannot be had ahead is asked for again when it is opened.
      if (route) void queries.query(matchQuery({ ...asked, via: viaOf(route.adapters) })).catch(() => null);
    }
    // What is asked is in the list that is its answer.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [list, chosen, enabled, queries]);
}

/** The list with the open route: what was put together by hand stands before the others. */
function merged(list: MatchReport | undefined, one: MatchReport | undefined, byHand: boolean): MatchReport | undefined {
  if (!list || one === list) return list;
  if (!one || one.lens !== list.lens || one.body !== list.body) return byHand ? list : { ...list, open: null };
  const { open } = one;
  const pieces = { ...list.pieces, ...one.pieces };
  if (!byHand) return { ...list, open, pieces };
  return {
    ...list,
    open,
    pieces,
    routes: [...one.routes, ...list.routes],
    names: { ...list.names, ...one.names },
    owned: [...list.owned, ...one.owned],
    with_glass: [...list.with_glass, ...one.with_glass],
  };
}

/** What an answer is the answer to, for those who wait for it. */
export function answerKey(address: Address, usual: Chosen): string {
  const said = Object.entries(address.practice)
    .filter(([key, value]) => value !== usual[key as keyof Chosen])
    .map(([key, value]) => `${key}=${value}`);
  return [address.lens, address.body, address.via ?? "best", ...said].join(" ");
}
