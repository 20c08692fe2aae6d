import { ticks } from "d3-array";

type Span = readonly [from: number, to: number];

/** Where a value stands on a line, in pixels, between the ends of what it holds. */
export interface Scale {
  (value: number): number;
  domain: Span;
  range: Span;
  /** Round values on it, about so many. */
  ticks: (about: number) => number[];
  /** The value at a place. */
  invert: (at: number) => number;
}

function scaleBy(into: (value: number) => number, outOf: (value: number) => number) {
  return (domain: Span, range: Span): Scale => {
    const [first, last] = [into(domain[0]), into(domain[1])];
    const along = (range[1] - range[0]) / (last - first);
    return Object.assign((value: number) => range[0] + (into(value) - first) * along, {
      domain,
      range,
      ticks: (about: number) => ticks(...domain, about),
      invert: (at: number) => outOf(first + (at - range[0]) / along),
    });
  };
}

const same = (value: number) => value;

/** A scale on which equal differences are equally long. */
export const evenScale = scaleBy(same, same);
/** A scale on which equal ratios are. */
export const logScale = scaleBy(Math.log, Math.exp);

// What photographers count in: the marks of rings and finders, not powers of ten.
const FOCAL_LENGTHS = [8, 10, 14, 20, 28, 35, 50, 70, 100, 135, 200, 300, 400, 600, 800, 1200];
const STOPS = [0.7, 1, 1.4, 2, 2.8, 4, 5.6, 8, 11, 16, 22, 32, 45, 64, 90];

/** A scale on which equal ratios are equally long, with a margin beyond what it has to hold. */
export function ratioScale(values: readonly number[], range: Span, margin = 1.12): Scale {
  const held = values.filter((value) => value > 0 && Number.isFinite(value));
  return logScale([Math.min(...held) / margin, Math.max(...held) * margin], range);
}

/** Of the marks that are usual, those on the scale, with so many pixels between them at least. */
export function usualTicks(scale: Scale, usual: readonly number[], apart: number): number[] {
  const [low, high] = scale.domain;
  const found: number[] = [];
  for (const value of usual) {
    if (value < low || value > high) continue;
    const last = found.at(-1);
    if (last === undefined || Math.abs(scale(value) - scale(last)) >= apart) found.push(value);
  }
  return found;
}

export const focalTicks = (scale: Scale, apart = 34) => usualTicks(scale, FOCAL_LENGTHS, apart);
export const stopTicks = (scale: Scale, apart = 20) => usualTicks(scale, STOPS, apart);

/** Distances in whole steps of each power of ten; where it holds few of those, in equal ones. */
export function distanceTicks(scale: Scale, apart = 40): number[] {
  const [low, high] = scale.domain.map((end) => Math.floor(Math.log10(end))) as [number, number];
  const powers = Array.from({ length: high - low + 1 }, (_, place) => low + place);
  // Divided, so that three tenths are 0.3.
  const whole = powers.flatMap((power) =>
    [1, 2, 3, 4, 5, 6, 7, 8, 9].map((step) => (power < 0 ? step / 10 ** -power : step * 10 ** power)),
  );
  const held = whole.filter((value) => value >= scale.domain[0] && value <= scale.domain[1]);
  return usualTicks(scale, held.length < 5 ? scale.ticks(10) : held, apart);
}
