import { addressOf, type FrameReport } from "../../api/client";
import type { FrameQuery } from "../../api/queries";
import type { Chosen } from "../../app/practice";

export type SceneName = FrameReport["scene"];

export const SCENES: readonly (readonly [SceneName, string])[] = [
  ["facade", "Church front"],
  ["nave", "Nave"],
  ["mark", "Pipe mark"],
  ["chart", "Chart"],
];

// What of a frame's address is a setting of it; the pair, its chain and the practice stand beside.
const SETTINGS = ["scene", "at", "n", "mm", "mode", "up", "sx", "sy", "tilt", "p", "subject", "stray", "desq"] as const;
type Setting = (typeof SETTINGS)[number];
export type Settings = Partial<Record<Setting | "via" | "lens", string>>;

const isSetting = (key: string): key is Setting | "via" =>
  key === "via" || (SETTINGS as readonly string[]).includes(key);

/** The settings in an address, or in the short form in which the other side is kept. */
export function settingsIn(words: URLSearchParams): Settings {
  return Object.fromEntries([...words].filter(([key]) => isSetting(key)));
}

/** The other side of the divider: its settings, and another lens where it has one. */
export function othersIn(words: URLSearchParams): Settings {
  const lens = words.get("lens");
  return { ...settingsIn(words), ...(lens === null ? {} : { lens }) };
}

export const written = (settings: Settings) => new URLSearchParams(settings).toString();

const number = (text: string | undefined): number | undefined => {
  const value = text === undefined || text === "" ? NaN : Number(text.replace(",", "."));
  return Number.isFinite(value) ? value : undefined;
};

/** What is asked of the server. */
export function queryOf(lens: string, body: string, settings: Settings, practice: Chosen): FrameQuery {
  const scene = SCENES.find(([name]) => name === settings.scene)?.[0] ?? "facade";
  const [subject, distance, height] = (settings.subject ?? "").split(",").map((one) => number(one));
  const given: Record<string, number | string | boolean | undefined> = {
    via: settings.via,
    at_m: settings.at === "inf" ? undefined : number(settings.at),
    at_infinity: settings.at === "inf" ? true : undefined,
    aperture: number(settings.n),
    mm: number(settings.mm),
    mode: settings.mode,
    upright: settings.up === "1" ? true : undefined,
    shift_x: number(settings.sx),
    shift_y: number(settings.sy),
    tilt: number(settings.tilt),
    correct: number(settings.p),
    subject_m: subject,
    distance_m: distance,
    lens_m: height,
    stray: number(settings.stray),
    desqueeze: settings.desq === "1" ? true : undefined,
  };
  const said = Object.fromEntries(Object.entries(given).filter(([, value]) => value !== undefined));
  return { practice, lens, body, scene, ...said };
}

/** Where the picture of a frame is; fewer rows while something is dragged. */
export function pictureOf(query: FrameQuery, rows: 300 | 600): string {
  return addressOf("/api/v1/frame/picture", { ...query, rows });
}
