// The geometry of a drag against cases that the core passes too.
import { expect, test } from "vitest";

import cases from "../../../tests/core/circle.json";
import { shiftedMargin, withinReach } from "./circle";

test("the margin of a shifted frame is the core's", () => {
  for (const { circle, width, height, shift, margin } of cases)
    expect(shiftedMargin(circle, width, height, shift as [number, number])).toBeCloseTo(margin, 9);
});

test("a mechanism goes no farther than it goes, in any direction", () => {
  expect(withinReach([3, 4], 0)).toEqual([3, 4]);
  expect(withinReach([3, 4], 5)).toEqual([3, 4]);
  const [across, up] = withinReach([6, 8], 5);
  expect(across).toBeCloseTo(3, 12);
  expect(up).toBeCloseTo(4, 12);
});
