import { useState } from "react";

import type { DeskPicture, MeasureAsked, RingStands } from "../../../api/measuredQueries";
import { useAddress } from "../../../app/useAddress";
import type { Box, Spot } from "../../../drawing/measured/PictureOverlay";
import { numberIn } from "../useKept";
import type { BenchRig } from "../useRig";
import type { Logged } from "./PictureSlot";
import type { SeriesLine } from "./SeriesSlots";
import { useMeasuring } from "./useMeasuring";

export interface Fields {
  stop: string;
  distance: string;
  ring: string;
  second: string;
  length: string;
  focal: string;
  mode: string;
}
const EMPTY: Fields = { stop: "", distance: "", ring: "", second: "", length: "240", focal: "", mode: "full" };

/** Where the ring stood: its far stop, the ∞ mark, or a distance in metres. */
const ringOf = (text: string): RingStands => {
  const said = text.trim();
  if (said === "∞" || said.toLowerCase() === "inf") return "infinity_mark";
  return numberIn(said) ?? "far_stop";
};

/** Everything that is said before a picture is measured, and what came of it. */
export function useMeasured(rig: BenchRig, what: MeasureAsked["what"]) {
  const [, go] = useAddress();
  const [picture, setPicture] = useState<DeskPicture | null>(null);
  const [reference, setReference] = useState<DeskPicture | null>(null);
  const [second, setSecond] = useState<DeskPicture | null>(null);
  const [lines, setLines] = useState<SeriesLine[]>([]);
  const [regions, setRegions] = useState<Box[]>([]);
  const [ends, setEnds] = useState<Spot[]>([]);
  const [fields, setFields] = useState<Fields>(EMPTY);
  const measuring = useMeasuring();
  const stop = numberIn(fields.stop);
  const distance = numberIn(fields.distance);

  const asked = (shown: DeskPicture, boxes: readonly Box[]): MeasureAsked => ({
    what,
    picture: shown.id,
    mode: fields.mode,
    via: rig.via ?? "",
    length_mm: numberIn(fields.length) ?? 240,
    ring: ringOf(fields.ring),
    regions: [...boxes],
    ...(rig.body === null ? {} : { body: rig.body }),
    ...(rig.lens === null || rig.via === null ? {} : { lens: rig.lens }),
    ...(stop === null ? {} : { f_number: stop }),
    ...(distance === null || distance <= 0 ? {} : { distance_m: distance }),
    ...(ends.length === 2 && ends[0] && ends[1] ? { start: [ends[0].x, ends[0].y], end: [ends[1].x, ends[1].y] } : {}),
    ...(reference && what === "ring" ? { reference: reference.id } : {}),
    ...(second && what === "ring" ? { second: { picture: second.id, ring: ringOf(fields.second) } } : {}),
    ...(what === "series"
      ? {
          frames: lines.flatMap((line) => {
            const [ring, at] = [numberIn(line.ring), numberIn(line.stop)];
            return ring === null || at === null ? [] : [{ picture: line.picture.id, ring_mm: ring, f_number: at }];
          }),
        }
      : {}),
  });

  // Edges and circles are told at once; for the rest the edges are shown that there are.
  const atOnce = what === "edges" || what === "circle";
  const take = (laid: DeskPicture, logged: Logged | null) => {
    setPicture(laid);
    setRegions([]);
    setEnds([]);
    measuring.clear();
    if (logged) {
      setFields({
        ...fields,
        stop: logged.aperture === null ? fields.stop : String(logged.aperture),
        distance: logged.distance_m === null ? "" : String(logged.distance_m),
        focal: logged.focal_length_mm === null ? "" : String(logged.focal_length_mm),
      });
      if (logged.lens !== rig.lens || logged.body !== rig.body)
        go({ lens: logged.lens, body: logged.body, via: logged.via });
    }
    measuring.start({ ...asked(laid, []), what: what === "circle" ? "circle" : "edges" });
  };
  const shown = what === "series" ? (lines[0]?.picture ?? null) : picture;
  const lacks = missing(what, rig, stop, ends, lines);

  const found = measuring.answer;
  const answer = found?.what === what ? found : null;
  const [size, setSize] = useState<{ id: string; width: number; height: number } | null>(null);
  // Rectangles are in pixels of the whole picture, also while it is measured again.
  if (found && shown && size?.id !== shown.id)
    setSize({ id: shown.id, width: found.picture.width, height: found.picture.height });
  const known = size !== null && size.id === shown?.id;
  const measure = () => shown && measuring.start(asked(shown, regions));
  return {
    ...{
      picture,
      reference,
      second,
      lines,
      regions,
      ends,
      fields,
      measuring,
      found,
      answer,
      shown,
      lacks,
      measure,
      take,
    },
    ...{ setReference, setSecond, setLines, setEnds, setFields },
    size: known ? size : null,
    clearRegions: () => {
      setRegions([]);
      if (shown && atOnce) measuring.start(asked(shown, []));
    },
    drag: (box: Box) => {
      const next = [...regions, box].slice(-12);
      setRegions(next);
      if (what === "edges" && shown) measuring.start(asked(shown, next));
    },
    click: (spot: Spot) => setEnds(ends.length === 2 ? [spot] : [...ends, spot]),
  };
}

/** What has to be said first. */
function missing(
  what: MeasureAsked["what"],
  rig: BenchRig,
  stop: number | null,
  ends: readonly Spot[],
  lines: readonly SeriesLine[],
): string {
  if (what === "ring" && (rig.lens === null || rig.body === null)) return "Choose lens and body above.";
  if (what === "ring" && stop === null) return "Say the stop on the lens.";
  if (what === "ladder" && ends.length < 2) return "Click the two marks of the ladder in the picture.";
  if (what === "series" && rig.body === null) return "Choose the body above: whose sensor it is.";
  if (what === "series" && lines.filter((line) => numberIn(line.ring) !== null).length < 4)
    return "Four frames at least, the ring moved between them.";
  return "";
}
