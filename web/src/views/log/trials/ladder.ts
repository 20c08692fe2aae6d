import type { Trial, Verdict } from "../../../api/trialQueries";
import { numberOf, type Taken } from "../../../parts/taken";

/** The keys of the verdicts: 1 to 4. */
export const VERDICTS: readonly Verdict[] = ["sharp", "soft", "smeared", "dark"];

/** One stop while it is noted. */
export interface Rung {
  centre: Verdict | null;
  corner: Verdict | null;
  ghost: boolean;
  flare: boolean;
  cause: Trial["cause"];
}

export const EMPTY: Rung = { centre: null, corner: null, ghost: false, flare: false, cause: null };

/** What all stops of a ladder have in common. */
export interface Common {
  lens: string;
  body: string | null;
  via: readonly string[];
  use: Trial["use"];
  source: Trial["source"];
  mark: number | null;
  distance: string;
  hood: boolean | null;
  travel: number | null;
  character: string;
  firmware: Readonly<Record<string, string>>;
  note: string;
}

/** The trials of a ladder: a stop of which the centre was looked at is one; that of the frame names its picture. */
export function trialsOf(
  rungs: ReadonlyMap<number, Rung>,
  common: Common,
  taken: Taken,
  at: Date,
  id: () => string,
): Trial[] {
  const { lens, body, via, use, source, mark, distance, hood, travel, character, firmware, note } = common;
  return [...rungs]
    .filter((rung): rung is [number, Rung & { centre: Verdict }] => rung[1].centre !== null)
    .sort(([one], [other]) => one - other)
    .map(([aperture, { centre, corner, ghost, flare, cause }]) => ({
      id: id(),
      at: at.toISOString(),
      struck: null,
      lens,
      body,
      via: [...via],
      use,
      aperture,
      focal_length_mm: mark,
      distance_m: numberOf(distance),
      centre,
      corner,
      ghost,
      flare,
      note: note.trim(),
      file: (aperture === taken.stop && taken.file) || null,
      source,
      firmware: Object.fromEntries(Object.entries(firmware).filter(([, version]) => version.trim() !== "")),
      travel,
      cause,
      hood,
      character: character
        .split(",")
        .map((word) => word.trim())
        .filter(Boolean),
    }));
}
