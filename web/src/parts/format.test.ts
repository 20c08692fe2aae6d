// The browser writes numbers as the core does: the same cases.
import { expect, test } from "vitest";

import cases from "../../../tests/core/written.json";
import { distance, fNumber, mm, percent, shortened, shutter, signedMm } from "./format";

const writers: Record<keyof typeof cases, (value: number) => string> = {
  millimetres: (value) => `${mm(Math.abs(value))} mm`,
  f_number: fNumber,
  percent,
  distance_metric: (value) => distance(value, "metric"),
  distance_imperial: (value) => distance(value, "imperial"),
};

test("every writer of the shared cases is there", () => {
  expect(Object.keys(cases)).toEqual(Object.keys(writers));
});

for (const [writer, list] of Object.entries(cases))
  test.each(list as [number, string][])(`${writer} writes %d as %s`, (value, written) => {
    expect(writers[writer as keyof typeof cases](value)).toBe(written);
  });

test("a sign is a true minus, and nothing is neither", () => {
  expect([0.03, -0.03, 0.001, -0.001].map((value) => signedMm(value))).toEqual([
    "+0.03",
    "\u22120.03",
    "\u00b10.00",
    "\u00b10.00",
  ]);
});

test("a shutter time is a fraction up to where meters write seconds", () => {
  expect([0.004, 1 / 3, 0.5, 2].map(shutter)).toEqual(["1/250", "1/3", "0.5", "2.0"]);
});

test("a name is cut to its room, and one that fits is not", () => {
  expect(shortened("Plain ring KLV\u2013OST", 12)).toBe("Plain ring KLV\u2013OST");
  expect(shortened("W".repeat(120), 20)).toMatch(/^W{20,24}\u2026$/);
  expect(shortened("i".repeat(120), 20)).toMatch(/^i{30,38}\u2026$/);
  // Never cut within a letter.
  expect(shortened("\ud83d\udcf7".repeat(40), 10)).toMatch(/^(\ud83d\udcf7)+\u2026$/u);
});
