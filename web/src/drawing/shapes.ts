import { acrossOf, alongOf, dot, type Frame } from "./scale";

export type Point = readonly [z: number, r: number];

/** A point given in millimetres (z before the sensor, r from the axis), for a path. */
export const at = (frame: Frame, z: number, r: number) => dot(frame, alongOf(frame, z), acrossOf(frame, r));

/** A closed outline through points in millimetres. */
export const outline = (frame: Frame, points: readonly Point[]) => `${line(frame, points)}Z`;

export const line = (frame: Frame, points: readonly Point[]) =>
  points.map(([z, r], index) => `${index ? "L" : "M"}${at(frame, z, r)}`).join("");

export const box = (frame: Frame, from: number, to: number, low: number, high: number) =>
  outline(frame, [
    [from, low],
    [to, low],
    [to, high],
    [from, high],
  ]);

export const mirrored = (points: readonly Point[]): Point[] => points.map(([z, r]) => [z, -r] as const);

export const both = (points: readonly Point[]) => [points, mirrored(points)] as const;

/** A glass element: two curved faces, `front` and `rear` positive where a face is convex. */
export function element(frame: Frame, z: number, half: number, thickness: number, front: number, rear: number): string {
  const [f, r] = [z + thickness / 2, z - thickness / 2];
  return (
    `M${at(frame, f, half)}Q${at(frame, f + front, 0)} ${at(frame, f, -half)}` +
    `L${at(frame, r, -half)}Q${at(frame, r - rear, 0)} ${at(frame, r, half)}Z`
  );
}
