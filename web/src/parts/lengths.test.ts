import { expect, test } from "vitest";

import { lengthMm } from "./lengths";

test.each([
  ["46,1", 46.1],
  ["46.1 mm", 46.1],
  [" 2 cm ", 20],
  ["1.5 in", 38.1],
  ["1 INCH", 25.4],
  ['2"', 50.8],
  ["2″", 50.8],
  ["1 ft", 304.8],
  [".5", 0.5],
  ["0.045 m", 45],
])("%s is %d mm", (text, mm) => {
  expect(lengthMm(text)).toBe(mm);
});

test.each(["", "wide", "-3", "1.2.3", "3 furlongs", "1 2"])("'%s' is no length", (text) => {
  expect(lengthMm(text)).toBeNull();
});
