import type { Entry, InHand } from "../../api/logQueries";

export type Way = Entry["way"];

/** How the rig is set, as it stays from one entry to the next. */
export interface Settings {
  mark: number | null;
  distance: string;
  focus: Entry["focus"];
  support: Entry["support"];
  use: string | null;
  shot: string;
  filter: string | null;
  seat: number | null;
  shift: string;
  tilt: string;
  mode: string | null;
  told: string;
  travel: number | null;
  heldOn: string | null;
  series: NonNullable<Entry["series"]> | null;
  roll: string | null;
  frame: number | null;
  note: string;
  /** A stop that is on no button. */
  otherStop: string;
  frames: number;
}

export const EMPTY: Settings = {
  mark: null,
  distance: "",
  focus: null,
  support: null,
  use: null,
  shot: "",
  filter: null,
  seat: null,
  shift: "",
  tilt: "",
  mode: null,
  told: "",
  travel: null,
  heldOn: null,
  series: null,
  roll: null,
  frame: null,
  note: "",
  otherStop: "",
  frames: 1,
};

/** As the last frame of a rig was set: what belongs to one frame alone does not go on. */
export const settingsOf = (last: Entry | undefined): Settings =>
  last === undefined
    ? EMPTY
    : {
        ...EMPTY,
        mark: last.focal_length_mm,
        focus: last.focus,
        support: last.support,
        use: last.use,
        shot: last.shot ?? "",
        filter: last.filter,
        seat: last.seat,
        shift: last.shift_mm ? last.shift_mm.join(", ") : "",
        tilt: last.tilt_deg === null ? "" : String(last.tilt_deg),
        mode: last.mode,
        travel: last.travel,
        heldOn: last.held_on,
        roll: last.roll,
      };

/** A number as people type it, with a point or a comma; null where there is none. */
export function numberIn(text: string): number | null {
  const value = Number(text.trim().replace(",", "."));
  return text.trim() === "" || !Number.isFinite(value) ? null : value;
}

/** A shift as it is typed: across, then up; one number is up. */
export function shiftIn(text: string): [number, number] | null {
  const parts = text
    .split(/[;/]|,\s+|\s+/)
    .map(numberIn)
    .filter((one) => one !== null);
  if (parts[0] === undefined) return null;
  return parts[1] === undefined ? [0, parts[0]] : [parts[0], parts[1]];
}

/** A moment of this device's clock in ISO 8601, with its zone. */
export function isoLocal(at: Date): string {
  const two = (value: number) => String(Math.trunc(Math.abs(value))).padStart(2, "0");
  const zone = -at.getTimezoneOffset();
  const day = `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`;
  const time = `${two(at.getHours())}:${two(at.getMinutes())}:${two(at.getSeconds())}`;
  const parts = String(at.getMilliseconds()).padStart(3, "0");
  return `${day}T${time}.${parts}${zone < 0 ? "-" : "+"}${two(zone / 60)}:${two(zone % 60)}`;
}

interface Taken {
  rig: Pick<InHand, "lens" | "body" | "via">;
  settings: Settings;
  way: Way;
  aperture: number | null;
  at: Date;
  /** This device's clock minus the server's, in seconds; already taken off. */
  off: number | null;
}

/** An entry of its own id. */
export const entryOf = ({ rig, settings, way, aperture, at, off }: Taken): Entry => ({
  id: crypto.randomUUID(),
  at: isoLocal(at),
  body: rig.body,
  lens: rig.lens,
  via: rig.via,
  way,
  frames: way === "tap" ? settings.frames : 1,
  aperture,
  focal_length_mm: settings.mark,
  distance_m: numberIn(settings.distance),
  focus: settings.focus,
  use: settings.use,
  support: settings.support,
  roll: settings.roll,
  frame_number: settings.roll === null ? null : settings.frame,
  shot: settings.shot.trim() || null,
  note: settings.note.trim(),
  mode: settings.mode,
  seat: settings.seat,
  shift_mm: shiftIn(settings.shift),
  tilt_deg: numberIn(settings.tilt),
  filter: settings.filter,
  told_mm: numberIn(settings.told),
  travel: settings.travel,
  held_on: settings.heldOn,
  series: settings.series,
  clock_off_s: off !== null && Math.abs(off) >= 1 ? Math.round(off * 1000) / 1000 : null,
  struck: null,
  version: 1,
});

export const USES = [
  { key: "paid_still", name: "paid still" },
  { key: "film", name: "film" },
  { key: "web", name: "web" },
  { key: "play", name: "play" },
] as const;

export const SUPPORTS = ["hand", "monopod", "tripod"] as const;

/** The time of an entry as the clock showed it there. */
export const clockOf = (at: string) => at.slice(11, 19);

/** The aperture of an entry in a word. */
export const stopSaid = ({ aperture }: Entry) => (aperture === null ? "aperture not noted" : `f/${aperture}`);
