import "./LensCut.css";

import type { Finding } from "../../api/client";
import { mm } from "../../parts/format";
import { acrossOf, alongOf, dot, type Frame, LABEL_ROWS } from "../scale";
import { lensOf, type Scene, stated, wideOf } from "../scene";
import { at, both, element, line, outline, type Point } from "../shapes";

interface Props {
  scene: Scene;
  frame: Frame;
  hatch: string;
}

/** A lens's outline in mm, half of it: as far as its data go, a usual barrel in between. */
export function lensShape(scene: Scene) {
  const lens = lensOf(scene);
  const seat = lens?.seat_mm ?? 0;
  const flange = (lens?.flange_mm ?? 0) / 2;
  const front = lens?.front_mm ?? 0;
  const outer = (lens?.diameter_mm ?? 0) / 2;
  // A rear that nobody measured is not drawn beyond the seat.
  const vertex = lens && stated(lens, "rear_protrusion_mm") ? lens.rear_vertex_mm : null;
  const rearHalf = (lens?.rear_diameter_mm ?? 0) / 2;
  const pupils = (scene.route?.ends ?? []).map((end) => end.focal_length_mm / end.f_number / 2);
  const entrance = Math.min(Math.max(...pupils, outer * 0.42) + 2.5, outer - 3.5);
  const length = front - seat;
  const rearGlass = Math.min(lens?.rear_vertex_mm ?? 0, front - 34);
  const chamber = Math.min(outer - 3.6, Math.max(entrance, rearHalf) + 2.4);
  return {
    seat,
    flange,
    front,
    outer,
    vertex,
    rearHalf,
    entrance,
    length,
    rearGlass,
    chamber,
    known: lens !== null && stated(lens, "length_mm"),
  };
}

// What leaves the iris where it is.
const STUCK = new Set<Finding["code"]>(["iris_without_power", "lever_not_moved", "pin_not_pressed"]);

type Shape = ReturnType<typeof lensShape>;

export function barrelOf({
  seat,
  flange,
  front,
  outer,
  rearHalf,
  entrance,
  length,
  rearGlass,
  chamber,
}: Shape): Point[] {
  const z = (share: number) => seat + length * share;
  const foot = Math.min(flange - 0.8, outer + 2);
  return [
    [seat, rearHalf - 1.2],
    [seat, foot],
    [seat + 3, foot],
    [seat + 3, outer * 0.9],
    [z(0.14), outer * 0.9],
    [z(0.14), outer * 0.955],
    [z(0.27), outer * 0.955],
    [z(0.27), outer * 0.88],
    [z(0.38), outer * 0.88],
    [z(0.38), outer],
    [z(0.78), outer],
    [z(0.78), outer * 0.95],
    [front, outer * 0.95],
    [front, outer * 0.95 - 1.6],
    [front - 3, outer * 0.95 - 1.6],
    [front - 3, entrance + 0.4],
    [front - 15, entrance + 0.4],
    [front - 17, chamber],
    [Math.max(rearGlass + 14, seat + 2), chamber],
    [Math.max(rearGlass + 12, seat), rearHalf - 1.2],
    [seat, rearHalf - 1.2],
  ];
}

/** The outside of the lens alone, for its ghosts. */
export const silhouetteOf = ({ seat, flange, front, outer, rearHalf, vertex }: Shape): Point[] => {
  const rear = vertex ?? seat;
  const half: Point[] = [
    [rear, rearHalf],
    [seat, rearHalf],
    [seat, Math.min(flange - 0.8, outer + 2)],
    [seat + 3, Math.min(flange - 0.8, outer + 2)],
    [seat + 3, outer],
    [front, outer],
  ];
  return [...half, ...half.map(([z, r]) => [z, -r] as const).reverse()];
};

export function LensCut({ scene, frame, hatch }: Props) {
  const shape = lensShape(scene);
  const { seat, front, outer, vertex, rearHalf, entrance, length, rearGlass, chamber } = shape;
  const tail: Point[] | null =
    vertex !== null
      ? [
          [seat, rearHalf - 1.6],
          [seat, rearHalf + 1],
          [vertex, rearHalf],
          [vertex, rearHalf - 1.6],
        ]
      : null;
  const z = (share: number) => seat + length * share;
  const mid = z(0.46);
  const stuck = scene.route?.findings.some(({ code }) => STUCK.has(code)) ?? false;
  const wide = scene.route ? wideOf(scene.route) : null;
  const shut = wide !== null && wide.working_f_number > wide.f_number * 1.5;
  const open = stuck && shut ? Math.max(1.2, entrance * 0.16) : entrance * 0.62;
  const ribs = Array.from({ length: 9 }, (_, index) => z(0.4 + index * 0.045));
  return (
    <g className={`cut lens ${shape.known ? "" : "unknown"}`} data-link={scene.lens}>
      <title>{`${scene.lens === null ? "" : (scene.pieces[scene.lens]?.name ?? scene.lens)}; the glass in it is schematic`}</title>
      {both(barrelOf(shape)).map((points, index) => (
        <path key={index} d={outline(frame, points)} fill={hatch} data-seat={index === 0 ? seat : undefined} />
      ))}
      {tail && both(tail).map((points, index) => <path key={index} className="solid" d={outline(frame, points)} />)}
      <path
        className="ribs"
        d={ribs
          .flatMap((rib) =>
            [1, -1].map((side) =>
              line(frame, [
                [rib, side * outer],
                [rib, side * (outer - 1.5)],
              ]),
            ),
          )
          .join("")}
      />
      <g className="glass">
        <path d={element(frame, front - 6, entrance, 4.4, 3.4, -1)} />
        <path d={element(frame, front - 12, entrance * 0.88, 3, 2.2, -1.8)} />
        <path d={element(frame, rearGlass + 2.4, rearHalf - 2, 4.2, 0.6, 2.6)} />
        {length > 30 && (
          <path d={element(frame, rearGlass + 9, Math.min(rearHalf - 2.4, entrance * 0.8), 2.4, -1.6, 1.8)} />
        )}
      </g>
      <path
        className={`iris ${stuck ? "stuck" : ""}`}
        d={[1, -1]
          .map((side) =>
            line(frame, [
              [mid, side * chamber],
              [mid, side * open],
            ]),
          )
          .join("")}
      />
      {stuck && (
        <g className="note stuck-note">
          {!frame.upright && (
            <path d={`M${alongOf(frame, mid)} ${LABEL_ROWS.iris + 4}V${acrossOf(frame, outer + 0.5)}`} />
          )}
          <text {...noteAt(frame, mid, seat)}>{shut ? "aperture stays closed" : "aperture stays open"}</text>
        </g>
      )}
      {frame.breakFrom !== null && <BreakLine frame={frame} half={outer + 3} seat={seat} beside={stuck ? mid : null} />}
    </g>
  );
}

// Half the width of the widest note, in pixels.
const NOTE_PX = 50;

const noteAt = (frame: Frame, z: number, seat: number) =>
  frame.upright
    ? { x: acrossOf(frame, 0), y: alongOf(frame, z) - 6, textAnchor: "middle" as const }
    : {
        x: Math.min(alongOf(frame, z) + NOTE_PX, alongOf(frame, seat) - 14),
        y: LABEL_ROWS.iris,
        textAnchor: "end" as const,
      };

/** Where part of a long barrel is left out, so that the rest may stay to scale. */
function BreakLine({
  frame,
  half,
  seat,
  beside,
}: {
  frame: Frame;
  half: number;
  seat: number;
  /** Where another note stands, in mm before the sensor. */
  beside: number | null;
}) {
  const along = frame.sensor - (frame.breakFrom ?? 0) * frame.scale;
  const [low, high] = [frame.axis - half * frame.scale, frame.axis + half * frame.scale];
  const part = (high - low) / 6;
  const p = (shift: number, across: number) => dot(frame, along + shift, across);
  const wave = (shift: number) =>
    `M${p(shift, low)}C${p(shift + 7, low + part)} ${p(shift - 7, low + 2 * part)} ` +
    `${p(shift, low + 3 * part)}S${p(shift - 7, low + 5 * part)} ${p(shift, high)}`;
  const level = along - 10;
  const taken = beside === null ? -Infinity : alongOf(frame, beside) - 6;
  return (
    <g className="break">
      <path className="break-gap" d={wave(0)} />
      <path d={wave(-3.5)} />
      <path d={wave(3.5)} />
      <text
        x={frame.upright ? frame.width - 4 : Math.min(along + NOTE_PX, alongOf(frame, seat) - 14)}
        y={frame.upright ? level + (Math.abs(level - taken) < 16 ? 24 : 0) : LABEL_ROWS.leftOut}
        textAnchor="end"
      >{`${mm(frame.removed, 0)} mm left out`}</text>
      <desc>{at(frame, frame.breakFrom ?? 0, 0)}</desc>
    </g>
  );
}
