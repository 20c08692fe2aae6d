import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";

import type { FitsReport, FrameReport } from "../../api/client";
import { fitsQuery, frameQuery, matchQuery } from "../../api/queries";
import type { Address } from "../../app/useAddress";
import { othersIn, queryOf, type Settings, settingsIn } from "./settings";

/** Where the subject stands for one rig, it stands for the other. */
const inPlace = (report: FrameReport | undefined): Settings => {
  if (!report) return {};
  const { height_m: high, distance_m: away, lens_m: lens } = report.subject;
  return {
    subject: [high, away, lens].join(","),
    ...(report.at_m === null ? {} : { at: String(report.at_m) }),
  };
};

/** Lenses that the body was made for, to look at beside an adapted one. */
const nativesIn = (fits: FitsReport | undefined, lens: string) =>
  (fits?.fits ?? []).filter(({ grade, id }) => grade === "native" && id !== lens).slice(0, 6);

function withoutLens(settings: Settings): Settings {
  const own = ["n", "mm", "sx", "sy", "tilt"];
  return Object.fromEntries(Object.entries(settings).filter(([key]) => !own.includes(key)));
}

/** The frame of the pair in the address, through its chain or the best one, and what stands beside it. */
export function useFrame(address: Address, words: URLSearchParams) {
  const { practice } = address;
  const [lens, body] = [address.lens ?? "", address.body ?? ""];
  const both = lens !== "" && body !== "";
  const routes = useQuery({
    ...matchQuery({ lens, body, practice }),
    enabled: both,
    placeholderData: keepPreviousData,
  });
  const there = routes.isSuccess && !routes.isPlaceholderData;
  const via = address.via ?? (there ? routes.data.routes[0]?.adapters.join(",") : undefined);
  const settings = useMemo<Settings>(
    () => ({ ...settingsIn(words), ...(via === undefined ? {} : { via }) }),
    [words, via],
  );
  const query = useMemo(() => queryOf(lens, body, settings, practice), [lens, body, settings, practice]);
  const frame = useQuery({ ...frameQuery(query), enabled: both && via !== undefined });
  const report = frame.data;
  const against = words.get("vs");
  const [drawn, setDrawn] = useState(false);
  const onDrawn = useCallback(() => setDrawn(true), []);
  // The lenses that stand beside it are many: they wait until the picture is there.
  const fits = useQuery({ ...fitsQuery({ body }, practice), enabled: both && (drawn || against !== null) });
  const otherQuery = useMemo(() => {
    if (against === null || !report) return null;
    const { lens: another, ...changed } = othersIn(new URLSearchParams(against));
    // Another lens has stops, focal lengths and movements of its own.
    const kept = another === undefined ? settings : withoutLens(settings);
    return queryOf(another ?? lens, body, { ...inPlace(report), ...kept, ...changed }, practice);
  }, [against, report, settings, lens, body, practice]);
  const other = useQuery({ ...frameQuery(otherQuery ?? query), enabled: otherQuery !== null });
  return {
    both,
    routes,
    frame,
    report,
    settings,
    query,
    onDrawn,
    natives: nativesIn(fits.data, lens),
    against,
    otherQuery,
    other: otherQuery ? other.data : undefined,
    nothingFits: both && there && via === undefined ? routes.data.sentence : null,
    settled: both && frame.isSuccess && !frame.isPlaceholderData,
    error: routes.error ?? frame.error,
  };
}
