import { expect, test } from "vitest";

import type { BenchPiece, BenchQuantity } from "../../api/benchQueries";
import { bedFor, endOf, openingAt } from "./caliperScale";

const piece = { outline: { outer_mm: 62, inner_mm: 42 } } as unknown as BenchPiece;
const quantity = (jaws: string, to_mm: number) => ({ jaws, to_mm, nominal_mm: to_mm }) as unknown as BenchQuantity;

test.each(["step", "depth", "inside", "outside"])("jaws %s open as far as they are told", (jaws) => {
  for (const width of [390, 900]) {
    const bed = bedFor(piece, quantity(jaws, 25.8), width, 420);
    expect(Math.abs(endOf(bed, 25.8) - bed.datum)).toBeCloseTo(25.8 * bed.scale, 9);
    // A drag to where an opening ends gives that opening.
    expect(openingAt(bed, endOf(bed, 13.7))).toBeCloseTo(13.7, 9);
    expect(endOf(bed, 25.8)).toBeGreaterThanOrEqual(0);
    expect(endOf(bed, 25.8)).toBeLessThanOrEqual(width);
  }
});

test("jaws do not open below nothing", () => {
  const bed = bedFor(piece, quantity("step", 25.8), 900, 420);
  expect(openingAt(bed, endOf(bed, -5))).toBe(0);
});
