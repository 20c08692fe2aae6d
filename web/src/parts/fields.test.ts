import { expect, test } from "vitest";

import { resolve, same, type Schema, trimmed, worded } from "./fields";

const root: Schema = { $defs: { Thread: { type: "object" } } };

test("references are followed, and what may be left out says so", () => {
  const found = resolve(root, { anyOf: [{ $ref: "#/$defs/Thread" }, { type: "null" }] });
  expect(found).toEqual({ schema: { type: "object" }, optional: true });
  expect(resolve(root, { type: "number" })).toEqual({ schema: { type: "number" }, optional: false });
  expect(resolve(root, { $ref: "#/$defs/Gone" }).schema).toEqual({ $ref: "#/$defs/Gone" });
});

test.each([
  ["rear_protrusion_mm", "Rear protrusion", "mm"],
  ["load_rating_nm", "Load rating", "N·m"],
  ["min_focus_m", "Min focus", "m"],
  ["mass_g", "Mass", "g"],
  ["notes", "Notes", ""],
])("%s is %s in %s", (key, label, unit) => {
  expect(worded(key)).toEqual({ label, unit });
});

test("what is empty is left out, what is nothing is kept", () => {
  expect(trimmed({ a: null, b: undefined, c: "", d: 0, e: false, f: [] })).toEqual({ d: 0, e: false, f: [] });
});

test("nothing said is the same as null, and not the same as zero", () => {
  expect(same(undefined, null)).toBe(true);
  expect(same(0, null)).toBe(false);
  expect(same([1, 2], [1, 2])).toBe(true);
});
