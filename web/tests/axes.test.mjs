import assert from "node:assert/strict";
import { test } from "node:test";

import { distanceTicks, focalTicks, ratioScale, stopTicks } from "../../.make/axes/axes.js";

test("equal ratios are equally long", () => {
  const scale = ratioScale([20, 200], [0, 400]);
  const step = (from, to) => scale(to) - scale(from);
  assert.ok(Math.abs(step(20, 40) - step(50, 100)) < 1e-9);
  assert.ok(Math.abs(step(25, 50) - step(100, 200)) < 1e-9);
});

test("everything that has to be held lies within", () => {
  const values = [23, 55, 410];
  const scale = ratioScale(values, [40, 460]);
  for (const value of values) assert.ok(scale(value) > 40 && scale(value) < 460);
  // What is no length is left out of account.
  assert.deepEqual(ratioScale([...values, 0, Infinity, NaN], [40, 460]).domain(), scale.domain());
});

test("ticks are those of rings and finders, and never run together", () => {
  for (const [low, high] of [
    [8, 1200],
    [24, 70],
    [50, 55],
  ]) {
    const scale = ratioScale([low, high], [0, 400]);
    for (const [ticks, apart] of [
      [focalTicks(scale), 34],
      [stopTicks(scale), 20],
      [distanceTicks(scale), 40],
    ])
      for (let index = 1; index < ticks.length; index += 1)
        assert.ok(Math.abs(scale(ticks[index]) - scale(ticks[index - 1])) >= apart);
  }
  assert.deepEqual(focalTicks(ratioScale([24, 90], [0, 900])), [28, 35, 50, 70, 100]);
});

test("a scale may run down, as for fast lenses above", () => {
  const scale = ratioScale([1.4, 22], [300, 20]);
  assert.ok(scale(1.4) > scale(22));
  assert.ok(stopTicks(scale).includes(5.6));
});
