/** A circle over a frame that is shifted in it, in mm: as in the core, for while it is dragged. */

/** Room between the farthest corner and the edge of the circle; less than 0: it is dark. */
export const shiftedMargin = (
  circle: number,
  width: number,
  height: number,
  shift: readonly [across: number, up: number],
) => circle / 2 - Math.hypot(width / 2 + Math.abs(shift[0]), height / 2 + Math.abs(shift[1]));

/** A shift that a mechanism can do: no farther than it goes, in any direction. */
export function withinReach(shift: readonly [number, number], most: number): readonly [across: number, up: number] {
  const far = Math.hypot(...shift);
  if (most <= 0 || far <= most) return shift;
  return [(shift[0] * most) / far, (shift[1] * most) / far];
}
