import { scaleLog, type ScaleLogarithmic } from "d3-scale";

export type LogScale = ScaleLogarithmic<number, number>;

// What photographers count in: the marks of rings and finders, not powers of ten.
const FOCAL_LENGTHS = [8, 10, 14, 20, 28, 35, 50, 70, 100, 135, 200, 300, 400, 600, 800, 1200];
const STOPS = [0.7, 1, 1.4, 2, 2.8, 4, 5.6, 8, 11, 16, 22, 32, 45, 64, 90];

/** A scale on which equal ratios are equally long, with a margin beyond what it has to hold. */
export function ratioScale(values: readonly number[], range: readonly [number, number], margin = 1.12): LogScale {
  const held = values.filter((value) => value > 0 && Number.isFinite(value));
  const low = Math.min(...held) / margin;
  const high = Math.max(...held) * margin;
  return scaleLog().domain([low, high]).range(range);
}

/** Of the marks that are usual, those on the scale, with so many pixels between them at least. */
export function usualTicks(scale: LogScale, usual: readonly number[], apart: number): number[] {
  const [low = 1, high = 1] = scale.domain();
  const found: number[] = [];
  for (const value of usual) {
    if (value < low || value > high) continue;
    const last = found.at(-1);
    if (last === undefined || Math.abs(scale(value) - scale(last)) >= apart) found.push(value);
  }
  return found;
}

export const focalTicks = (scale: LogScale, apart = 34) => usualTicks(scale, FOCAL_LENGTHS, apart);
export const stopTicks = (scale: LogScale, apart = 20) => usualTicks(scale, STOPS, apart);

/** Distances as the scale's own library counts them. */
export function distanceTicks(scale: LogScale, apart = 40): number[] {
  return usualTicks(scale, scale.ticks(), apart);
}
