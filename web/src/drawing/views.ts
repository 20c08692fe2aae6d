import type { BecomingRow, LensSetting } from "../api/client";

/** Half of what a frame takes in, as tangents of angles: across and up. */
export interface HalfView {
  across: number;
  up: number;
}

const half = (degrees: number) => Math.tan((degrees * Math.PI) / 360);

/** What a setting takes in; null for a fisheye. */
export function halfViewOf(setting: LensSetting): HalfView | null {
  const angles = setting.angles_deg;
  return angles === null ? null : { across: half(angles.horizontal), up: half(angles.vertical) };
}

/** What a format takes in behind a focal length. */
export const halfViewOn = (width: number, height: number, focal: number): HalfView => ({
  across: width / 2 / focal,
  up: height / 2 / focal,
});

/** A 36 × 24 mm view that holds all of these, a little wider than the widest: its focal length in mm. */
export function outlookMm(views: readonly HalfView[]): number {
  const widest = Math.max(0.05, ...views.map(({ across, up }) => Math.max(across, up * 1.5)));
  // Two digits, so that one picture serves for many questions.
  return Number((18 / (widest * 1.06)).toPrecision(2));
}

export interface Numbered {
  row: BecomingRow;
  number: number;
}

export const numbered = (rows: readonly BecomingRow[]): Numbered[] =>
  rows.map((row, index) => ({ row, number: index + 1 }));

/** More marks than this tell nothing by their numbers. */
export const MOST_NUMBERS = 60;
