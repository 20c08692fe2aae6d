import { expect, test } from "vitest";

import type { GridEnds } from "../../api/planQueries";
import { layoutOf, ROW, rowAt } from "./layout";

const lens = (id: string, mount: string) => ({ id, mount, mount_name: mount.toUpperCase() }) as GridEnds;
const LENSES = [lens("one", "a"), lens("two", "a"), lens("three", "b")];

test("lenses stand one below the other, each group under its head", () => {
  const { rows, heads, height } = layoutOf(LENSES, true, 3, 300);
  expect(heads.map(({ name }) => name)).toEqual(["A", "B"]);
  expect(rows.map(({ y }) => y)).toEqual([24, 24 + ROW, 48 + 2 * ROW]);
  expect(height).toBe(48 + 3 * ROW);
  expect(layoutOf(LENSES, false, 3, 300).heads).toEqual([]);
});

test("a cell shares the room and stays between what can be hit and what can be overlooked", () => {
  expect(layoutOf(LENSES, false, 6, 300).cell).toBe(50);
  expect(layoutOf(LENSES, false, 90, 300).cell).toBe(30);
  expect(layoutOf(LENSES, false, 1, 300).cell).toBe(72);
  expect(layoutOf(LENSES, false, 0, 300).cell).toBe(72);
});

test("every height of a row is that row, and a head is none", () => {
  const layout = layoutOf(LENSES, true, 3, 300);
  expect([23, 24, 24 + ROW - 1, 24 + ROW].map((y) => rowAt(layout, y))).toEqual([-1, 0, 0, 1]);
  expect(rowAt(layout, 1e6)).toBe(-1);
});
