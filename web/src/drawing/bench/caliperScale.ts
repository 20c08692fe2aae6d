import type { BenchPiece, BenchQuantity } from "../../api/benchQueries";

/** Where everything of a caliper's drawing stands: pixels, and how many of them a millimetre is. */
export interface Bed {
  width: number;
  height: number;
  scale: number;
  /** Where the datum stands, and the axis of the piece (along it) or its middle (across it). */
  datum: number;
  axis: number;
  /** The beam, and the edge of the piece under it. */
  beam: number;
  edge: number;
  /** Millimetres grow towards the subject, to the left, except for a rod that goes in. */
  way: 1 | -1;
}

export const across = (quantity: BenchQuantity) => quantity.jaws === "inside" || quantity.jaws === "outside";

/** So much opens beyond what is measured. */
const OPEN = 1.45;

export function bedFor(piece: BenchPiece, quantity: BenchQuantity, width: number, height: number): Bed {
  const narrow = width < 640;
  const { outline } = piece;
  const side = narrow ? 24 : 250;
  if (across(quantity)) {
    const size = quantity.nominal_mm ?? 60;
    const scale = Math.min((height - 120) / Math.max(size, outline.outer_mm), (width - side - 60) / (size * OPEN));
    return {
      width,
      height,
      scale,
      datum: (width - side) / 2 - (size / 2) * scale,
      axis: 34 + (Math.max(size, outline.outer_mm) / 2) * scale,
      beam: height - 42,
      edge: height - 42,
      way: -1,
    };
  }
  const reach = Math.max(quantity.to_mm, 8) * OPEN;
  // From the edge to a little inside the bore: what lies nearer to the axis is broken off.
  const wall = (outline.outer_mm - outline.inner_mm) / 2 + 5;
  const scale = Math.min((height - 130) / wall, (width - side - (narrow ? 70 : 170)) / reach, 16);
  const axis = height - 30;
  const edge = Math.max(78, axis - wall * scale);
  const into = quantity.jaws === "depth";
  const middle = (width - (narrow ? 0 : side)) / 2;
  const off = Math.min((quantity.to_mm * scale) / 2 + 30, middle - (narrow ? 92 : 60));
  return {
    width,
    height,
    scale,
    datum: middle + (into ? -off : off),
    axis: edge + wall * scale,
    beam: edge - 34,
    edge,
    way: into ? -1 : 1,
  };
}

/** Where an opening of so many millimetres ends. */
export const endOf = (bed: Bed, mm: number) => bed.datum - bed.way * mm * bed.scale;

/** The opening for a place on the beam. */
export const openingAt = (bed: Bed, x: number) => Math.max(0, (bed.way * (bed.datum - x)) / bed.scale);
