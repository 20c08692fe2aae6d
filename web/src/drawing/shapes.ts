import { type Frame, xOf } from "./scale";

export type Point = readonly [z: number, r: number];

/** A closed outline through points given in millimetres (z before the sensor, r from the axis; r > 0 is up). */
export const outline = (frame: Frame, points: readonly Point[]) =>
  points.map(([z, r], index) => `${index ? "L" : "M"}${at(frame, z, r)}`).join("") + "Z";

export const at = (frame: Frame, z: number, r: number) =>
  `${xOf(frame, z).toFixed(2)} ${(frame.axisY - r * frame.scale).toFixed(2)}`;

export const mirrored = (points: readonly Point[]): Point[] => points.map(([z, r]) => [z, -r] as const);

/** A glass element: two curved faces, `bulge` positive where a face is convex. */
export function element(frame: Frame, z: number, half: number, thickness: number, front: number, rear: number): string {
  const y = (r: number) => frame.axisY - r * frame.scale;
  const xf = xOf(frame, z + thickness / 2);
  const xr = xOf(frame, z - thickness / 2);
  const bend = (value: number) => value * frame.scale;
  return (
    `M${xf.toFixed(2)} ${y(half).toFixed(2)}` +
    `Q${(xf - bend(front)).toFixed(2)} ${frame.axisY.toFixed(2)} ${xf.toFixed(2)} ${y(-half).toFixed(2)}` +
    `L${xr.toFixed(2)} ${y(-half).toFixed(2)}` +
    `Q${(xr + bend(rear)).toFixed(2)} ${frame.axisY.toFixed(2)} ${xr.toFixed(2)} ${y(half).toFixed(2)}Z`
  );
}
