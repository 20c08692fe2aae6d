import { expect, test } from "vitest";

import { distanceTicks, focalTicks, ratioScale, stopTicks } from "./axes";

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
  expect(ratioScale([...values, 0, Infinity, NaN], [40, 460]).domain()).toEqual(scale.domain());
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
