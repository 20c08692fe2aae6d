/**
 * Numbers as people of the trade write them. A true minus, two decimals of a millimetre, no jumping digits.
 */

const minus = (text: string) => text.replace("-", "−");

export const mm = (value: number, digits = 2) => minus(value.toFixed(digits));

export const signedMm = (value: number, digits = 2) => {
  const text = value.toFixed(digits);
  if (Number(text) === 0) return `±${Math.abs(Number(text)).toFixed(digits)}`;
  return value > 0 ? `+${text}` : minus(text);
};

/** A signed length with its unit; what is not known says so. */
export const signedLength = (value: number | null, digits = 2) =>
  value === null ? "not known" : `${signedMm(value, digits)} mm`;

/** A length with its unit; what is not known says so. */
export const lengthOrNot = (value: number | null) => (value === null ? "not known" : `${mm(value)} mm`);

/** An f-number rounded up to a tenth, never wider than computed. */
export const fNumber = (value: number) => {
  if (value >= 10) return `f/${Math.ceil(Number(value.toFixed(6)))}`;
  return `f/${Math.ceil(Number((value * 10).toFixed(5))) / 10}`;
};

/** An f-number as it is, to two figures after the point where it has them. */
export const aperture = (value: number) => `f/${Number(value.toFixed(value < 10 ? 2 : 1))}`;

/** A distance, or that it is not known. */
export const knownDistance = (value: number | null, units: "metric" | "imperial", unknown = "unknown") =>
  value === null ? unknown : distance(value, units);

export const percent = (value: number) => {
  if (value > 0 && value < 0.01) return "under 1 %";
  if (value > 0.99 && value < 1 - 1e-9) return "over 99 %";
  return `${Math.round(value * 100)} %`;
};

/** A probability; where a tolerance was measured and is no bound, never certain. */
export const chance = (value: number, bounded: boolean) => percent(bounded ? value : Math.min(value, 1 - 1e-6));

export function distance(value: number, units: "metric" | "imperial"): string {
  if (units === "imperial") {
    const inches = value / 25.4;
    return inches < 23.95 ? `${figures(inches)} in` : `${figures(inches / 12)} ft`;
  }
  return value < 999.5 ? `${figures(value / 10)} cm` : `${figures(value / 1000)} m`;
}

/** How many decimals make three significant figures. */
const decimals = (value: number) =>
  [2, 1].find((count) => Math.abs(Number(value.toFixed(count))) < 10 ** (3 - count)) ?? 0;

/** A number to three significant figures; none of its whole ones is lost. */
function figures(value: number): string {
  const digits = decimals(value);
  return Number(value.toFixed(digits)).toLocaleString("en", {
    minimumFractionDigits: digits,
    maximumFractionDigits: digits,
  });
}

/** Distances of one row, in one unit and to as many digits as tell them apart; null is infinity. */
export function agreeing(values: (number | null)[], units: "metric" | "imperial"): string[] {
  const [per, unit] = units === "imperial" ? [304.8, "ft"] : [1000, "m"];
  const finite = values.filter((value) => value !== null).map((value) => value / per);
  const gaps = finite.flatMap((one, at) => finite.slice(at + 1).map((other) => Math.abs(one - other)));
  const least = Math.min(...gaps.filter((gap) => gap > 0), 1);
  const digits = Math.min(3, Math.max(0, Math.ceil(-Math.log10(least))));
  const shown = (value: number) => value.toFixed(Math.max(digits, decimals(value)));
  return values.map((value) => (value === null ? "infinity" : `${shown(value / per)} ${unit}`));
}

/** Any number of a working, to as many figures as say something. */
export function plain(value: number | string | boolean | null, unit: string): string {
  if (value === null) return "unknown";
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (typeof value === "string") return value;
  const size = Math.abs(value);
  const digits = size >= 1000 ? 1 : size >= 100 ? 2 : size >= 1 ? 3 : 4;
  const text = minus(Number(value.toFixed(digits)).toString());
  if (unit === "f") return `f/${text}`;
  if (unit === "°") return `${text}°`;
  // A number and its unit stay on one line.
  return unit === "" ? text : `${text}\u00a0${unit}`;
}

export const money = (value: number, currency: string) =>
  new Intl.NumberFormat("en", { style: "currency", currency, maximumFractionDigits: 0 }).format(value);

/** A sentence whose numbers stay with their units and with each other. */
export const unbroken = (text: string) =>
  text.replace(/(\d) (?=mm\b|cm\b|m\b|×|±)/g, "$1\u00a0").replace(/([×±]) (?=\d)/g, "$1\u00a0");

/** A shutter time without its unit. */
export const shutter = (seconds: number) => (seconds >= 0.4 ? mm(seconds, 1) : `1/${Math.round(1 / seconds)}`);

/** The day as the clock on the wall has it, in ISO 8601. */
export const today = () => new Date().toLocaleDateString("sv-SE");

/** A moment of the journal, as the clock on the wall had it. */
export const moment = (at: string) => new Date(at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" });

/** A name cut to the room that a drawing has for it, in widths of the font's em. */
export function shortened(name: string, room_em: number): string {
  const letters = Array.from(name);
  let taken = 0;
  for (const [index, letter] of letters.entries()) {
    taken += /[\u2e80-\uffff]|\p{Extended_Pictographic}/u.test(letter) ? 1.1 : /[A-ZMW@%_—]/.test(letter) ? 0.85 : 0.52;
    if (taken > room_em) {
      const kept = letters.slice(0, Math.max(1, index - 1)).join("");
      return `${kept.trimEnd()}…`;
    }
  }
  return name;
}

/** From which mark of the ring infinity is sharp. */
export const sharpFrom = (end: { infinity: { reached: boolean | null }; from_mark: number | null }): string => {
  if (end.from_mark !== null) return fNumber(end.from_mark);
  return end.infinity.reached === null ? "unknown" : "never";
};

/** How far away the farthest sharp subject is. */
export const sharpTo = (focus: { state: string; far_mm: number | null }, units: "metric" | "imperial"): string => {
  if (focus.state === "none" || focus.state === "inside") return "nothing";
  if (focus.state === "unknown") return "unknown";
  return focus.far_mm === null ? "infinity" : distance(focus.far_mm, units);
};
