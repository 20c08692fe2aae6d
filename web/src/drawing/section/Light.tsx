import "./Light.css";

import type { PlacedLens } from "../../api/client";
import { mm } from "../../parts/format";
import { acrossOf, alongOf, dot, type Frame } from "../scale";
import { bodyOf, lensOf, type Scene, stated, waistOf, wideOf } from "../scene";
import { at, line, outline } from "../shapes";

interface Props {
  scene: Scene;
  frame: Frame;
  /** Where the beam fades in, in pixels along the axis. */
  from: number;
  fill: string;
}

/**
 * The light: a parallel beam into the lens, and the cone from its pupil to its waist, wherever that falls.
 */
export function Light({ scene, frame, from, fill }: Props) {
  const route = scene.route;
  const waist = waistOf(scene);
  const lens = lensOf(scene);
  const pupil = pupilOf(lens);
  const rear = lens ? (stated(lens, "rear_protrusion_mm") ? lens.rear_vertex_mm : lens.seat_mm) : 0;
  const widest = (lens?.diameter_mm ?? 0) / 2 - 3;
  const wideEnd = route ? wideOf(route) : null;
  const f = wideEnd?.working_f_number ?? (pupil ? pupil.at / pupil.across : 4);
  const entrance = Math.min(wideEnd ? wideEnd.focal_length_mm / f / 2 : widest * 0.6, widest);
  const rearHalf = pupil ? ((pupil.across / 2) * (rear - waist)) / (pupil.at - waist) : (rear - waist) / (2 * f);
  const zFront = (lens?.front_mm ?? 0) - 5;
  const end = Math.max(waist, 0);
  const atEnd = waist < 0 ? (rearHalf * -waist) / (rear - waist) : 0;
  const spill = waist > 0 ? (rearHalf * waist) / (rear - waist) : 0;
  const circle = route ? route.coverage.image_circle_mm : null;
  const startZ = pupil ? Math.min(pupil.at, rear + 6) : 0;
  const wide = entrance * frame.scale;
  const to = Math.max(alongOf(frame, zFront), from);
  return (
    <g className={`light-path ${route ? "" : "wished"}`} data-waist={waist}>
      <path
        className="beam"
        d={`M${dot(frame, from, frame.axis - wide)}L${dot(frame, to, frame.axis - wide)}L${dot(frame, to, frame.axis + wide)}L${dot(frame, from, frame.axis + wide)}Z`}
        fill={fill}
      />
      <path
        className="cone"
        d={outline(frame, [
          [zFront, entrance],
          [rear, rearHalf],
          [end, atEnd],
          [end, -atEnd],
          [rear, -rearHalf],
          [zFront, -entrance],
        ])}
      />
      {spill > 0 && (
        <path
          className="cone spilled"
          d={outline(frame, [
            [waist, 0],
            [0, spill],
            [0, -spill],
          ])}
        />
      )}
      {waist < 0 && (
        <path
          className="ray virtual"
          d={line(frame, [
            [0, atEnd],
            [waist, 0],
            [0, -atEnd],
          ])}
        />
      )}
      {Math.abs(waist) > 0.5 / frame.scale && (
        <circle className="waist" cx={cxy(frame, waist)[0]} cy={cxy(frame, waist)[1]} r="3.4" />
      )}
      {circle !== null &&
        pupil &&
        [1, -1].map((side) => (
          <path
            key={side}
            className="ray"
            d={line(frame, [
              [startZ, ((side * circle) / 2) * (1 - startZ / pupil.at)],
              [0, (side * circle) / 2],
            ])}
          />
        ))}
      {circle !== null && (
        <path
          className="circle-edge"
          d={[1, -1]
            .map((side) => `M${at(frame, 1.2, (side * circle) / 2)}L${at(frame, -1.2, (side * circle) / 2)}`)
            .join("")}
        />
      )}
      {route && (
        <title>{`Light: image circle ${circle === null ? "unknown" : `${mm(circle)} mm`} over a sensor diagonal of ${mm(bodyOf(scene)?.mode_mm ?? 0)} mm`}</title>
      )}
    </g>
  );
}

/** The exit pupil, where it is known. */
const pupilOf = (lens: PlacedLens | null) =>
  lens?.exit_pupil_mm != null && lens.exit_pupil_diameter_mm
    ? { at: lens.exit_pupil_mm, across: lens.exit_pupil_diameter_mm }
    : null;

const cxy = (frame: Frame, z: number) => {
  const [along, across] = [alongOf(frame, z), acrossOf(frame, 0)];
  return frame.upright ? [across, along] : [along, across];
};
