// The geometry of a drag against cases that the core passes too.
import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import test from "node:test";

import { shiftedMargin, withinReach } from "../../.make/circle/circle.js";

const cases = JSON.parse(readFileSync(new URL("../../tests/core/circle.json", import.meta.url), "utf8"));

test("the margin of a shifted frame is the core's", () => {
  for (const { circle, width, height, shift, margin } of cases) {
    assert.ok(Math.abs(shiftedMargin(circle, width, height, shift) - margin) < 1e-9);
  }
});

test("a mechanism goes no farther than it goes, in any direction", () => {
  assert.deepEqual(withinReach([3, 4], 0), [3, 4]);
  assert.deepEqual(withinReach([3, 4], 5), [3, 4]);
  const [across, up] = withinReach([6, 8], 5);
  assert.ok(Math.abs(across - 3) < 1e-12 && Math.abs(up - 4) < 1e-12);
});
