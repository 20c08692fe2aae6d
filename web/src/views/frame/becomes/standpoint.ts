import { addressOf, type FrameReport } from "../../../api/client";

type Subject = FrameReport["subject"];

/** From where all views of a table are seen: one place, so that they can be compared. */
const STANDPOINTS = {
  nave: ["Nave", { height_m: 11, distance_m: 8, lens_m: 1.5 }],
  facade: ["Church front", { height_m: 18, distance_m: 26, lens_m: 1.6 }],
  mark: ["Pipe mark", { height_m: 1.5, distance_m: 0.6, lens_m: 1.2 }],
} as const satisfies Record<string, readonly [string, Subject]>;

export type Standing = keyof typeof STANDPOINTS;

const isStanding = (text: string | null): text is Standing => text !== null && text in STANDPOINTS;

export const standingIn = (words: URLSearchParams): Standing => {
  const said = words.get("scene");
  return isStanding(said) ? said : "nave";
};

export const STANDINGS = Object.entries(STANDPOINTS).map(([value, [label]]) => ({ value, label }));

export const subjectOf = (scene: Standing): Subject => STANDPOINTS[scene][1];

/** The picture of a plain view on a format. */
export function plainView(
  scene: Standing,
  view: { mm: number; aperture: number; width: number; height: number },
  rows: 300 | 600 = 300,
): string {
  const { height_m: high, distance_m: away, lens_m: lens } = subjectOf(scene);
  const { mm, aperture, width: width_mm, height: height_mm } = view;
  const at = { scene, subject_m: high, distance_m: away, lens_m: lens, rows };
  return addressOf("/api/v1/becomes/view", { mm, aperture, width_mm, height_mm, ...at });
}

/** Everything sharp: what the frames are laid over. */
export const outlook = (scene: Standing) => (mm: number) =>
  plainView(scene, { mm, aperture: 1000, width: 36, height: 24 }, 600);
