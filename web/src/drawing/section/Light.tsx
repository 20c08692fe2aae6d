import { mm } from "../../parts/format";
import { acrossOf, alongOf, dot, type Frame } from "../scale";
import { find, type Scene } from "../scene";
import { at, line, outline } from "../shapes";

interface Props {
  scene: Scene;
  frame: Frame;
  /** Where the beam fades in, in pixels along the axis. */
  from: number;
  fill: string;
}

/** The light: a parallel beam into the lens, and the cone from its pupil to its waist, wherever that falls. */
export function Light({ scene, frame, from, fill }: Props) {
  const route = scene.route;
  const waist = find(scene, "waist")?.at_mm ?? 0;
  const pupil = find(scene, "exit_pupil");
  const seat = find(scene, "lens_seat")?.at_mm ?? 0;
  const rear = find(scene, "rear_vertex")?.at_mm ?? seat;
  const front = find(scene, "lens_front");
  const widest = (front?.diameter_mm ?? 60) / 2 - 3;
  const f = route?.working_f_number ?? (pupil?.diameter_mm ? pupil.at_mm / pupil.diameter_mm : 4);
  const entrance = Math.min(route ? route.focal_length_mm / f / 2 : widest * 0.6, widest);
  const rearHalf = pupil?.diameter_mm
    ? ((pupil.diameter_mm / 2) * (rear - waist)) / (pupil.at_mm - waist)
    : (rear - waist) / (2 * f);
  const zFront = (front?.at_mm ?? seat + 40) - 5;
  const end = Math.max(waist, 0);
  const atEnd = waist < 0 ? (rearHalf * -waist) / (rear - waist) : 0;
  const spill = waist > 0 ? (rearHalf * waist) / (rear - waist) : 0;
  const circle = route ? route.coverage.image_circle_mm : null;
  const startZ = pupil ? Math.min(pupil.at_mm, rear + 6) : 0;
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
        <path className="ray virtual" d={line(frame, [[0, atEnd], [waist, 0], [0, -atEnd]])} />
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
              [startZ, ((side * circle) / 2) * (1 - startZ / pupil.at_mm)],
              [0, (side * circle) / 2],
            ])}
          />
        ))}
      {circle !== null && (
        <path
          className="circle-edge"
          d={[1, -1].map((side) => `M${at(frame, 1.2, (side * circle) / 2)}L${at(frame, -1.2, (side * circle) / 2)}`).join("")}
        />
      )}
      {route && (
        <title>{`Light: image circle ${circle === null ? "unknown" : `${mm(circle)} mm`} over a sensor diagonal of ${mm(find(scene, "mode")?.diameter_mm ?? 0)} mm`}</title>
      )}
    </g>
  );
}

const cxy = (frame: Frame, z: number) => {
  const [along, across] = [alongOf(frame, z), acrossOf(frame, 0)];
  return frame.upright ? [across, along] : [along, across];
};
