import type { BecomingRow, LensSetting } from "../../../api/client";
import { aperture, mm, money, unbroken } from "../../../parts/format";

/** A value at both ends of a zoom, or the one of a prime. */
export function ends(row: BecomingRow, of: (setting: LensSetting) => string): string {
  return [...new Set(row.settings.map(of))].join("–");
}

export const whole = (value: number) => mm(value, value < 10 ? 1 : 0);
export const stop = (value: number) => mm(value, value < 9.95 ? 1 : 0).replace(/\.0$/, "");
/** An aperture as a ring could be set to it. */
export const setTo = (value: number) => aperture(Number(value.toFixed(1)));
export const degrees = (value: number) => `${value.toFixed(value < 10 ? 1 : 0)}°`;
export const signedStops = (value: number) =>
  Math.abs(value) < 0.05 ? "0" : `${value > 0 ? "+" : "−"}${Math.abs(value).toFixed(1)}`;

export const modeName = (row: { mode: string; width_mm: number; height_mm: number }) =>
  unbroken(row.mode === "full" ? `${row.width_mm} × ${row.height_mm}` : row.mode);

/** What has to be bought for a row, if anything. */
export const buying = (row: BecomingRow, currency: string): string[] =>
  row.owned ? [] : [row.price === null ? "to buy, no price" : `to buy, ${money(row.price, currency)}`];

export const chainOf = (adapters: readonly string[], names: Record<string, string>) =>
  adapters.map((id) => names[id] ?? id).join(" + ") || "bare";
