import { expect, test } from "vitest";

import type { OutingWritten } from "../../api/client";
import { contested, merged } from "./merge";

const BASE: OutingWritten = {
  name: "West front",
  day: null,
  shots: [{ name: "Doors", rig: "doors" }],
  spare: [],
  packed: ["Lens", "Ring"],
};

test("what only one window changed is no conflict", () => {
  const theirs = { ...BASE, day: "2026-12-01" };
  expect(contested(BASE, theirs, { name: "East gallery" })).toEqual([]);
  expect(merged(BASE, theirs, { name: "East gallery" })).toEqual({ ...theirs, name: "East gallery" });
});

test("what both changed is, unless they agree", () => {
  const theirs = { ...BASE, name: "South gallery" };
  expect(contested(BASE, theirs, { name: "East gallery" })).toEqual(["name"]);
  expect(contested(BASE, theirs, { name: "South gallery" })).toEqual([]);
});

test("of what is packed, both ticks stand and both that were taken off are gone", () => {
  const theirs = { ...BASE, packed: ["Lens", "Tripod"] };
  const changed = { packed: ["Ring", "Cloth"] };
  expect(contested(BASE, theirs, changed)).toEqual([]);
  expect(merged(BASE, theirs, changed).packed).toEqual(["Tripod", "Cloth"]);
});
