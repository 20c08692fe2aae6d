import type { Route, Station } from "../api/client";

/** Millimetres to pixels along the axis and across it. x grows to the right, z is counted before the sensor. */
export interface Frame {
  width: number;
  height: number;
  /** Pixels per millimetre; one of a few, never stretched. */
  scale: number;
  sensorX: number;
  axisY: number;
  /** Where a long barrel is broken: everything beyond `from` moves in by `removed` millimetres. */
  breakFrom: number | null;
  removed: number;
}

export const SCALES = [8, 6, 5, 4, 3, 2.5, 2, 1.6, 1.25, 1] as const;

export const xOf = (frame: Frame, z: number) => {
  const shown = frame.breakFrom !== null && z > frame.breakFrom ? Math.max(frame.breakFrom, z - frame.removed) : z;
  return frame.sensorX - shown * frame.scale;
};

export const find = (route: Route, kind: Station["kind"]) => route.stations.find((station) => station.kind === kind);

const radius = (station: Station | undefined) => (station?.diameter_mm ?? 0) / 2;

/** Widest half-width of everything in front of the body. */
export const tallest = (route: Route) =>
  Math.max(
    ...route.stations
      .filter(({ kind }) => ["lens_front", "lens_seat", "adapter_front", "body_seat", "sensor"].includes(kind))
      .map(radius),
  );

/** Choose the largest scale at which the height fits; break the barrel where the length then does not. */
export function frameFor(
  route: Route,
  box: { width: number; height: number; behind: number; ahead: number; margin: number },
): Frame {
  const half = box.height / 2 - box.margin;
  const seat = find(route, "lens_seat")?.at_mm ?? 0;
  const front = find(route, "lens_front")?.at_mm ?? seat + 40;
  const room = box.width - box.behind - box.ahead;
  const most = tallest(route) + 2;
  const fits = (scale: number) => most * scale <= half && (seat + 34) * scale <= room;
  const scale = SCALES.find(fits) ?? SCALES[SCALES.length - 1] ?? 1;
  const removed = Math.max(0, front - room / scale);
  const pupil = find(route, "exit_pupil")?.at_mm ?? 0;
  // A break inside the cone would bend the light, so it stands beyond the pupil where there is room for that.
  const breakFrom = removed > 0 ? Math.min(Math.max(seat + 14, pupil + 3), front - removed - 10) : null;
  return {
    width: box.width,
    height: box.height,
    scale,
    sensorX: box.width - box.behind,
    axisY: box.height / 2,
    breakFrom,
    removed,
  };
}
