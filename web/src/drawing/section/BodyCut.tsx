import "./BodyCut.css";

import { mm } from "../../parts/format";
import { useId } from "react";

import { acrossOf, alongOf, breadthOf, dot, type Frame, lengthOf, place } from "../scale";
import { bodyOf, type Scene } from "../scene";
import { lensShape } from "./LensCut";
import { both, box, line, outline, type Point } from "../shapes";

/** Radii and depths of a body in mm. */
export function bodyShape(scene: Scene) {
  const body = bodyOf(scene);
  const seat = body?.seat_mm ?? 0;
  const throat = (body?.throat_mm ?? 0) / 2;
  const flange = Math.max((body?.flange_mm ?? 0) / 2, throat + 4);
  return {
    seat,
    throat,
    flange,
    front: seat - 4.5,
    rear: body?.back_mm ?? 0,
    half: Math.max((body?.height_mm ?? 0) / 2, flange + 3),
    obstruction: body?.obstruction_mm ?? undefined,
    sensor: (body?.sensor_mm ?? 0) / 2,
  };
}

/** How deep a body may be drawn, in mm behind the sensor, if its sensor is to be shown beside it. */
const depthFor = (scene: Scene, frame: Frame) => {
  const corner = (bodyOf(scene)?.sensor_mm ?? 0) / 2;
  const room = (lengthOf(frame) - frame.sensor) / frame.scale;
  return frame.upright ? room + 4 : Math.max(14, room - Math.max(2 * corner + 46 / frame.scale, 226 / frame.scale));
};

/** Where the drawn body ends, in mm before the sensor; broken off where it is deeper. */
export const bodyEnd = (scene: Scene, frame: Frame) => Math.max(bodyShape(scene).rear, -depthFor(scene, frame));

export function BodyCut({
  scene,
  frame,
  hatch,
  whole: entire = false,
}: {
  scene: Scene;
  frame: Frame;
  hatch: string;
  whole?: boolean;
}) {
  const { seat, throat, flange, front, rear: back, half: whole, obstruction, sensor } = bodyShape(scene);
  const rear = bodyEnd(scene, frame);
  const deeper = rear > back + 0.5;
  // A body taller than the sheet is broken off, not squashed.
  const [near, far] = frame.clear;
  const room = Math.min(frame.axis - near, breadthOf(frame) - frame.axis - far) / frame.scale;
  const broken = whole > room && !entire;
  const half = broken ? whole + 20 : whole;
  const wall = 2.6;
  const plate: Point[] = [
    [seat, throat],
    [seat, flange],
    [seat - 2.2, flange],
    [front, flange - 1.4],
    [front, throat],
  ];
  const shell: Point[] = [
    [front, throat + 2.4],
    [front, half - 5],
    [front - 5, half],
    ...(deeper
      ? ([
          [rear, half],
          [rear + 1.2, half - wall / 2],
          [rear, half - wall],
        ] as const)
      : ([
          [rear + 3, half],
          [rear, half - 3],
          [rear, 0],
          [rear + wall, 0],
          [rear + wall, half - 4.4],
          [rear + 4.4, half - wall],
        ] as const)),
    [front - 6, half - wall],
    [front - wall, half - 6],
    [front - wall, throat + 2.4],
  ];
  // The chamber's frame: what a rear element would meet first.
  const touched = scene.route?.findings.some(({ code }) => code === "rear_collides") ?? false;
  const inner = touched ? Math.min(sensor + 1, lensShape(scene).rearHalf - 2.5) : sensor + 1;
  const chamber: Point[] | null =
    obstruction === undefined
      ? null
      : [
          [obstruction, inner],
          [obstruction, sensor + 5],
          [1.4, sensor + 5],
          [1.4, sensor + 1],
          [obstruction - 2, sensor + 1],
          [obstruction - 2, inner],
        ];
  const clip = useId().replace(/[^a-zA-Z0-9]/g, "");
  const edges = [frame.axis - room * frame.scale, frame.axis + room * frame.scale] as const;
  const [left, top] = place(frame, 0, edges[0]);
  const [right, bottom] = place(frame, lengthOf(frame), edges[1]);
  return (
    <g className="cut body" data-link={scene.body}>
      <title>{`${named(scene)}: its mount face is ${mm(seat)} mm before the sensor`}</title>
      {broken && (
        <clipPath id={clip}>
          <rect x={left} y={top} width={right - left} height={bottom - top} />
        </clipPath>
      )}
      <g clipPath={broken ? `url(#${clip})` : undefined}>
        {both(shell).map((points, index) => (
          <path key={index} d={outline(frame, points)} fill={hatch} />
        ))}
      </g>
      {broken &&
        edges.map((across) => (
          <path
            key={across}
            className="broken-off"
            d={zigzag(frame, alongOf(frame, front) - 6, Math.min(alongOf(frame, rear) + 6, lengthOf(frame)), across)}
          />
        ))}
      {both(plate).map((points, index) => (
        <path key={index} className="solid" d={outline(frame, points)} data-seat={index === 0 ? seat : undefined} />
      ))}
      {chamber &&
        both(chamber).map((points, index) => (
          <path key={index} className="chamber" d={outline(frame, points)}>
            <title>What stands in the body: the rear of a lens has to stay clear of it</title>
          </path>
        ))}
    </g>
  );
}

const named = (scene: Scene) => (scene.body === null ? "" : (scene.pieces[scene.body]?.name ?? scene.body));

const zigzag = (frame: Frame, from: number, to: number, across: number) => {
  const middle = (from + to) / 2;
  const points = [
    [from, 0],
    [middle - 8, 0],
    [middle - 3, -5],
    [middle + 3, 5],
    [middle + 8, 0],
    [to, 0],
  ] as const;
  return points.map(([along, off], index) => `${index ? "L" : "M"}${dot(frame, along, across + off)}`).join("");
};

export function SensorLine({ scene, frame }: { scene: Scene; frame: Frame }) {
  const half = (bodyOf(scene)?.sensor_mm ?? 0) / 2;
  const mode = (bodyOf(scene)?.mode_mm ?? 0) / 2;
  const thick = Math.max(3, frame.scale) / frame.scale;
  const edge = breadthOf(frame);
  const [x, y] = place(frame, frame.sensor, edge - 12);
  return (
    <g className="sensor">
      <title>The sensor, and its plane</title>
      <circle className="film-plane" cx={x} cy={y} r="5" />
      <path className="plane" d={`M${dot(frame, frame.sensor, 0)}L${dot(frame, frame.sensor, edge)}`} />
      {half > 0 && <path className="chip" d={box(frame, 0, -thick, half, -half)} />}
      {mode > 0 && (
        <path
          className="in-use"
          d={line(frame, [
            [0, mode],
            [0, -mode],
          ])}
          data-station="mode"
          data-half={acrossOf(frame, mode)}
        />
      )}
    </g>
  );
}
