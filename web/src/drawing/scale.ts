import { bodyOf, lensOf, movementsOf, type Scene } from "./scene";

/**
 * Millimetres to pixels. z is counted along the axis before the sensor, r across it. Lying, the subject is at
 * the left
 * and r grows upwards; upright, as on a phone, the subject is at the top and r grows to the right.
 */
export interface Frame {
  width: number;
  height: number;
  /** Pixels per millimetre; one of a few, never stretched. */
  scale: number;
  /** Where the sensor plane stands along the axis, and the axis across it, in pixels. */
  sensor: number;
  axis: number;
  upright: boolean;
  /** Room kept free of the body, at the near side and the far one, in pixels: for the dimensions. */
  clear: readonly [near: number, far: number];
  /** Where a long barrel is broken: everything beyond moves in by `removed` millimetres. */
  breakFrom: number | null;
  removed: number;
}

/** Lying, what is said of the lens stands in rows above it, before the dimensions; in pixels from the top. */
export const LABEL_ROWS = { movement: 16, leftOut: 32, iris: 48 } as const;

/** What a letter of the drawing takes at most, on average, in pixels. */
export const LETTER_PX = 7;

/** Where the middle of a text may stand so that it ends inside the drawing. */
export const inside = (frame: Frame, x: number, text: string) =>
  Math.min(x, frame.width - 4 - (text.length * LETTER_PX) / 2);

/** A text in lines of at most so many letters, broken between words. */
export function wrapped(text: string, most: number): string[] {
  const lines: string[] = [];
  for (const each of text.split(" ")) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + 1 + each.length <= most) lines[lines.length - 1] = `${last} ${each}`;
    else lines.push(each);
  }
  return lines;
}

export const SCALES = [8, 6, 5, 4, 3.5, 3, 2.5, 2, 1.6, 1.25, 1, 0.8] as const;

/** Along the axis, in pixels. */
export const alongOf = (frame: Frame, z: number) => {
  const shown = frame.breakFrom !== null && z > frame.breakFrom ? Math.max(frame.breakFrom, z - frame.removed) : z;
  return frame.sensor - shown * frame.scale;
};

/** Across the axis, in pixels. */
export const acrossOf = (frame: Frame, r: number) => frame.axis + (frame.upright ? r : -r) * frame.scale;

/** The length of the drawing along its axis, and its breadth. */
export const lengthOf = (frame: Frame) => (frame.upright ? frame.height : frame.width);
export const breadthOf = (frame: Frame) => (frame.upright ? frame.width : frame.height);

/** A place given along and across in pixels, on the screen. */
export const place = (frame: Frame, along: number, across: number): readonly [x: number, y: number] =>
  frame.upright ? [across, along] : [along, across];

export const dot = (frame: Frame, along: number, across: number) => {
  const [x, y] = place(frame, along, across);
  return `${x.toFixed(2)} ${y.toFixed(2)}`;
};

// About so much of a long barrel stays when it is broken.
const DRAWN_MM = 70;

/** Widest half-width of everything in front of the body. */
function broadest(scene: Scene): number {
  const [lens, body] = [lensOf(scene), bodyOf(scene)];
  const breadths = [
    ...(lens ? [lens.diameter_mm, lens.flange_mm] : []),
    ...(body ? [body.flange_mm, body.sensor_mm] : []),
    ...(scene.section?.adapters ?? []).map(({ outer_mm }) => outer_mm),
  ];
  // The ghosts of a shift and of a tilt want room too; of a long barrel that tilts, so much of it is drawn.
  const { tilt, shift } = movementsOf(scene);
  const length = Math.min(DRAWN_MM, (lens?.front_mm ?? 0) - (lens?.seat_mm ?? 0));
  const aside = Math.max(shift, length * Math.sin((tilt * Math.PI) / 180));
  return Math.max(20, aside + Math.max(...breadths.map((breadth) => breadth / 2)));
}

interface Box {
  width: number;
  height: number;
  upright: boolean;
  /** Room kept behind the sensor and ahead of the lens, in pixels. */
  behind: number;
  ahead: number;
  /** Room kept at either side, in pixels. */
  margin: number;
  /** How far a lens that is a little too long may reach into the room ahead, in pixels. */
  slack: number;
  /** How far the axis stands off the middle, in pixels. */
  offset: number;
  /** Two routes, each with its dimensions on its own side. */
  halved?: boolean;
}

/** Choose the largest scale at which the breadth fits; break the barrel where the length then does not. */
export function frameFor(scene: Scene, box: Box): Frame {
  const length = box.upright ? box.height : box.width;
  const breadth = box.upright ? box.width : box.height;
  const half = breadth / 2 - box.margin;
  const seat = Math.max(lensOf(scene)?.seat_mm ?? 0, bodyOf(scene)?.seat_mm ?? 0);
  const front = (lensOf(scene)?.front_mm ?? seat + 40) + movementsOf(scene).helicoid;
  const room = length - box.behind - box.ahead;
  const most = broadest(scene) + 2;
  const fits = (scale: number) => most * scale <= half && (seat + 32) * scale <= room;
  const scale = SCALES.find(fits) ?? SCALES[SCALES.length - 1] ?? 1;
  const over = Math.max(0, front - room / scale);
  // A break is worth it only for more than a little.
  const removed = over * scale <= box.slack ? 0 : over;
  const pupil = lensOf(scene)?.exit_pupil_mm ?? 0;
  // A break inside the cone would bend the light, so it stands beyond the pupil where there is room for that.
  const breakFrom = removed > 0 ? Math.min(Math.max(seat + 14, pupil + 3), front - removed - 10) : null;
  return {
    width: box.width,
    height: box.height,
    scale,
    sensor: length - box.behind,
    axis: breadth / 2 + box.offset,
    upright: box.upright,
    clear: box.upright ? [72, 2] : [56, box.halved ? 56 : 4],
    breakFrom,
    removed,
  };
}
