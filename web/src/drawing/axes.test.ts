import { expect, test } from "vitest";

import { distanceTicks, evenScale, focalTicks, logScale, ratioScale, stopTicks } from "./axes";

test("equal ratios are equally long", () => {
  const scale = ratioScale([20, 200], [0, 400]);
  const step = (from: number, to: number) => scale(to) - scale(from);
  expect(step(20, 40)).toBeCloseTo(step(50, 100), 9);
  expect(step(25, 50)).toBeCloseTo(step(100, 200), 9);
});

test("everything that has to be held lies within", () => {
  const values = [23, 55, 410];
  const scale = ratioScale(values, [40, 460]);
  for (const value of values) {
    expect(scale(value)).toBeGreaterThan(40);
    expect(scale(value)).toBeLessThan(460);
  }
  // What is no length is left out of account.
  expect(ratioScale([...values, 0, Infinity, NaN], [40, 460]).domain).toEqual(scale.domain);
});

test.each([
  [8, 1200],
  [24, 70],
  [50, 55],
])("ticks from %d to %d never run together", (low, high) => {
  const scale = ratioScale([low, high], [0, 400]);
  const kinds = [
    [focalTicks(scale), 34],
    [stopTicks(scale), 20],
    [distanceTicks(scale), 40],
  ] as const;
  for (const [ticks, apart] of kinds)
    ticks.slice(1).forEach((tick, index) => {
      expect(Math.abs(scale(tick) - scale(ticks[index] ?? NaN))).toBeGreaterThanOrEqual(apart);
    });
});

test("ticks are those of rings and finders", () => {
  expect(focalTicks(ratioScale([24, 90], [0, 900]))).toEqual([28, 35, 50, 70, 100]);
});

test("a scale may run down, as for fast lenses above", () => {
  const scale = ratioScale([1.4, 22], [300, 20]);
  expect(scale(1.4)).toBeGreaterThan(scale(22));
  expect(stopTicks(scale)).toContain(5.6);
});

test("a scale tells places from values, and values from places", () => {
  for (const scale of [evenScale([0, 10], [100, 200]), evenScale([0, 10], [200, 100])]) {
    expect(scale(5)).toBe(150);
    expect(scale.invert(scale(2))).toBeCloseTo(2, 12);
    expect(scale.ticks(5)).toEqual([0, 2, 4, 6, 8, 10]);
  }
  const ratios = logScale([1, 100], [0, 200]);
  expect(ratios(10)).toBeCloseTo(100, 10);
  expect(ratios.invert(50)).toBeCloseTo(Math.sqrt(10), 10);
});

test("distances are counted in steps of their power of ten, and evenly where few of those are there", () => {
  expect(distanceTicks(logScale([0.25, 11], [0, 2000]), 0)).toEqual([
    0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10,
  ]);
  expect(distanceTicks(logScale([1, 2], [0, 2000]), 0)).toEqual([1, 1.1, 1.2, 1.3, 1.4, 1.5, 1.6, 1.7, 1.8, 1.9, 2]);
});
