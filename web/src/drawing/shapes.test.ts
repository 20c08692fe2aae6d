import { expect, test } from "vitest";

import type { Frame } from "./scale";
import { at, box, element, mirrored, outline } from "./shapes";

const frame: Frame = {
  width: 200,
  height: 100,
  scale: 2,
  sensor: 150,
  axis: 50,
  upright: false,
  clear: [0, 0],
  breakFrom: null,
  removed: 0,
};

test("a point in millimetres is a place in the drawing", () => {
  expect(at(frame, 10, 5)).toBe("130.00 40.00");
});

test("an outline is closed, and a box has its four corners", () => {
  expect(
    outline(frame, [
      [0, 0],
      [10, 0],
    ]),
  ).toBe("M150.00 50.00L130.00 50.00Z");
  expect(box(frame, 0, 10, -5, 5)).toBe("M150.00 60.00L130.00 60.00L130.00 40.00L150.00 40.00Z");
});

test("below the axis is what is above it, turned over", () => {
  expect(
    mirrored([
      [3, 4],
      [5, -6],
    ]),
  ).toEqual([
    [3, -4],
    [5, 6],
  ]);
});

test("a convex face bulges away from its element", () => {
  const [, front] = /Q([\d.]+) /.exec(element(frame, 20, 10, 4, 3, 0)) ?? [];
  // Its edge stands 22 mm before the sensor, its bulge 25.
  expect(Number(front)).toBe(150 - 25 * 2);
});
