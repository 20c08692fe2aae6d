// The browser writes numbers as the core does: the same cases, bundled first since Node does not read TypeScript.
import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import test from "node:test";

import { distance, fNumber, mm, percent, shortened, shutter, signedMm } from "../../.make/words/format.js";

const cases = JSON.parse(readFileSync(new URL("../../tests/core/written.json", import.meta.url), "utf8"));
const writers = {
  millimetres: (value) => `${mm(Math.abs(value))} mm`,
  f_number: fNumber,
  percent,
  distance_metric: (value) => distance(value, "metric"),
  distance_imperial: (value) => distance(value, "imperial"),
};

test("every writer of the shared cases is there", () => {
  assert.deepEqual(Object.keys(cases), Object.keys(writers));
});

for (const [writer, list] of Object.entries(cases)) {
  for (const [value, written] of list) {
    test(`${writer} writes ${value} as ${written}`, () => assert.equal(writers[writer](value), written));
  }
}

test("a sign is a true minus, and nothing is neither", () => {
  assert.deepEqual(
    [0.03, -0.03, 0.001, -0.001].map((value) => signedMm(value)),
    ["+0.03", "\u22120.03", "\u00b10.00", "\u00b10.00"],
  );
});

test("a shutter time is a fraction up to where meters write seconds", () => {
  assert.deepEqual([0.004, 1 / 3, 0.5, 2].map(shutter), ["1/250", "1/3", "0.5", "2.0"]);
});

test("a name is cut to its room, and one that fits is not", () => {
  assert.equal(shortened("Plain ring KLV\u2013OST", 12), "Plain ring KLV\u2013OST");
  assert.match(shortened("W".repeat(120), 20), /^W{20,24}\u2026$/);
  assert.match(shortened("i".repeat(120), 20), /^i{30,38}\u2026$/);
  // Never cut within a letter.
  assert.ok(
    [...shortened("\ud83d\udcf7".repeat(40), 10)].every((letter) =>
      ["\ud83d\udcf7", "\u2026"].includes(letter),
    ),
  );
});
