import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";

import type { Details, MatchReport, Route } from "../../api/client";
import { detailsQuery, matchQuery, type Question } from "../../api/queries";
import type { Chosen } from "../../app/practice";
import type { Address } from "../../app/useAddress";
import { viaOf } from "../../parts/rig";

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
  const there = all.isSuccess && !all.isPlaceholderData;
  const found = useMemo(() => withUnlisted(all.data), [all.data]);
  const known = indexOf(found, address.via);
  // A chain that is none of the found ones was put together by hand: it is judged just the same.
  const byHand = useQuery({
    ...matchQuery({ ...asked, via: address.via ?? "" }),
    enabled: question !== null && address.via !== null && there && known < 0,
  });
  const isByHand = known < 0 && address.via !== null;
  const report = useMemo(
    () => merged(found, isByHand ? byHand.data : undefined),
    [found, isByHand, byHand.data],
  );
  const chosen = address.via === null ? 0 : known >= 0 ? known : report !== found ? 0 : -1;
  const route = report?.routes[Math.max(chosen, 0)];
  const settled = question !== null && there && (address.via === null || known >= 0 || byHand.isSuccess);
  return {
    question,
    all,
    error: all.error ?? byHand.error,
    report,
    route,
    chosen,
    isByHand: isByHand || chosen < 0,
    settled,
    details: useDetails(asked, question !== null, route),
    ...useBeside(asked, address, found, report, there && question !== null),
  };
}

/** The ring that nobody lists among the routes: first where nothing that is listed works, else last. */
function withUnlisted(all: MatchReport | undefined): MatchReport | undefined {
  if (!all?.unlisted) return all;
  return { ...all, routes: all.works ? [...all.routes, all.unlisted] : [all.unlisted, ...all.routes] };
}

const indexOf = (report: MatchReport | undefined, via: string | null) =>
  report?.routes.findIndex((route) => viaOf(route.adapters) === via) ?? -1;

/** Functions and steps of the route that is looked at: with the report for the first, asked for otherwise. */
function useDetails(asked: Question, enabled: boolean, route: Route | undefined): Details | undefined {
  const via = viaOf(route?.adapters);
  const told = useQuery({
    ...detailsQuery({ ...asked, via }),
    enabled: enabled && route?.details === null,
    placeholderData: keepPreviousData,
  });
  return route?.details ?? told.data;
}

/** The route it is compared with, wherever it comes from. */
function useBeside(
  asked: Question,
  address: Address,
  all: MatchReport | undefined,
  report: MatchReport | undefined,
  enabled: boolean,
) {
  const { beside: via } = address;
  const listed = all?.routes[indexOf(all, via)];
  const compared = useQuery({
    ...matchQuery({ ...asked, via: via ?? "" }),
    enabled: enabled && via !== null && !listed,
  });
  const beside = via === null || !report ? undefined : (listed ?? compared.data?.routes[0]);
  const both = useMemo(
    () => (report ? { ...report, pieces: { ...compared.data?.pieces, ...report.pieces } } : undefined),
    [report, compared.data],
  );
  const told = useQuery({
    ...detailsQuery({ ...asked, via: via ?? "" }),
    enabled: enabled && beside?.details === null,
  });
  return { beside, both, besideDetails: beside?.details ?? told.data };
}

function merged(all: MatchReport | undefined, one: MatchReport | undefined): MatchReport | undefined {
  if (!all || !one) return all;
  if (one.lens !== all.lens || one.body !== all.body) return all;
  return { ...all, routes: [...one.routes, ...all.routes], pieces: { ...all.pieces, ...one.pieces } };
}

/** What an answer is the answer to, for those who wait for it. */
export function answerKey(address: Address, usual: Chosen): string {
  const said = Object.entries(address.practice)
    .filter(([key, value]) => value !== usual[key as keyof Chosen])
    .map(([key, value]) => `${key}=${value}`);
  return [address.lens, address.body, address.via ?? "best", ...said].join(" ");
}
