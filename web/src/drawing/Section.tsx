import { useId } from "react";

import type { MatchReport, Piece, Route } from "../api/client";
import { mm } from "../parts/format";
import { find, type Frame, xOf } from "./scale";
import { at, element, mirrored, outline, type Point } from "./shapes";

interface Props {
  report: MatchReport;
  route: Route;
  frame: Frame;
}

const both = (points: readonly Point[]) => [points, mirrored(points)] as const;

/** The rig cut open through the sensor's diagonal, to scale. Metal hatched, light warm, contacts as a wire. */
export function Section({ report, route, frame }: Props) {
  const id = useId().replace(/[^a-zA-Z0-9]/g, "");
  const pieces = report.pieces;
  const lens = pieces[report.lens];
  const body = pieces[report.body];
  return (
    <g className="section" data-scale={frame.scale} data-sensor-x={frame.sensorX}>
      <defs>
        {[45, -45].map((angle, index) => (
          <pattern
            key={angle}
            id={`${id}h${index}`}
            width="5"
            height="5"
            patternUnits="userSpaceOnUse"
            patternTransform={`rotate(${angle})`}
          >
            <rect width="5" height="5" className="metal" />
            <path d="M0 2.5H5" className="hatch" />
          </pattern>
        ))}
        <linearGradient id={`${id}b`} x1="0" x2="1">
          <stop offset="0" className="beam-far" />
          <stop offset="1" className="beam-near" />
        </linearGradient>
        <clipPath id={`${id}c`}>
          <rect x="0" y="0" width={frame.width} height={frame.height} />
        </clipPath>
      </defs>
      <g clipPath={`url(#${id}c)`}>
        <path className="axis" d={`M${beamStart(route, frame)} ${frame.axisY}H${frame.width}`} />
        {route.grade !== "danger" && <Light route={route} frame={frame} fill={`url(#${id}b)`} />}
        {body && <BodyCut route={route} frame={frame} hatch={`url(#${id}h0)`} />}
        {route.adapters.map((adapter, index) => {
          const piece = pieces[adapter];
          return piece ? (
            <AdapterCut
              key={adapter}
              route={route}
              frame={frame}
              piece={piece}
              row={index}
              hatch={`url(#${id}h${(route.adapters.length - index) % 2})`}
            />
          ) : null;
        })}
        {lens && <LensCut route={route} frame={frame} hatch={`url(#${id}h${(route.adapters.length + 1) % 2})`} />}
        <Wire report={report} route={route} frame={frame} />
        <SensorLine route={route} frame={frame} />
        {route.grade === "danger" && <Crossed route={route} frame={frame} />}
      </g>
      <Dimensions report={report} route={route} frame={frame} />
      <ScaleBar frame={frame} />
    </g>
  );
}

function Light({ route, frame, fill }: { route: Route; frame: Frame; fill: string }) {
  const waist = find(route, "waist")?.at_mm ?? 0;
  const pupil = find(route, "exit_pupil");
  const seat = find(route, "lens_seat")?.at_mm ?? 0;
  const rear = find(route, "rear_vertex")?.at_mm ?? seat;
  const front = find(route, "lens_front");
  const sensor = (find(route, "mode")?.diameter_mm ?? 0) / 2;
  const circle = route.coverage.image_circle_mm;
  const entrance = Math.min(route.focal_length_mm / route.working_f_number / 2, (front?.diameter_mm ?? 60) / 2 - 3);
  const rearHalf = pupil?.diameter_mm
    ? ((pupil.diameter_mm / 2) * (rear - waist)) / (pupil.at_mm - waist)
    : (rear - waist) / (2 * route.working_f_number);
  const zFront = (front?.at_mm ?? seat + 40) - 5;
  const end = Math.max(waist, 0);
  const atEnd = waist < 0 ? (rearHalf * (0 - waist)) / (rear - waist) : 0;
  const spill = waist > 0 ? (rearHalf * waist) / (rear - waist) : 0;
  const left = Math.max(frame.scale, (frame.sensorX - xOf(frame, zFront)) / frame.scale);
  const far = left + frame.width / frame.scale;
  const beam = [
    [far, entrance],
    [zFront, entrance],
    [rear, rearHalf],
    [end, atEnd],
    [end, -atEnd],
    [rear, -rearHalf],
    [zFront, -entrance],
    [far, -entrance],
  ] as const;
  return (
    <g className="light-path" data-waist={waist}>
      <path className="beam" d={farBeam(frame, beamStart(route, frame), zFront, entrance)} fill={fill} />
      <path className="cone" d={outline(frame, beam.slice(1, 7))} />
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
          d={`M${at(frame, 0, atEnd)}L${at(frame, waist, 0)}L${at(frame, 0, -atEnd)}`}
        />
      )}
      {circle !== null && pupil && (
        <>
          {[1, -1].map((side) => (
            <path
              key={side}
              className="ray"
              d={`M${at(frame, Math.min(pupil.at_mm, rear + 6), ((side * circle) / 2) * (1 - Math.min(pupil.at_mm, rear + 6) / pupil.at_mm))}L${at(frame, 0, (side * circle) / 2)}`}
            />
          ))}
        </>
      )}
      {circle !== null && (
        <path
          className="circle-edge"
          d={[1, -1].map((side) => `M${at(frame, 1.2, (side * circle) / 2)}L${at(frame, -1.2, (side * circle) / 2)}`).join("")}
        />
      )}
      <title>{`Light: image circle ${circle === null ? "unknown" : `${mm(circle)} mm`} over a sensor diagonal of ${mm(2 * sensor)} mm`}</title>
    </g>
  );
}

/** Light arrives from the left; it fades in where the sentence ends. */
const beamStart = (route: Route, frame: Frame) => Math.max(frame.width >= 900 ? frame.width * 0.335 : 0, xOf(frame, find(route, "lens_front")?.at_mm ?? 60) - 400);

const farBeam = (frame: Frame, startX: number, z: number, half: number) => {
  const x = xOf(frame, z).toFixed(2);
  const top = (frame.axisY - half * frame.scale).toFixed(2);
  const bottom = (frame.axisY + half * frame.scale).toFixed(2);
  return `M${startX.toFixed(2)} ${top}L${x} ${top}L${x} ${bottom}L${startX.toFixed(2)} ${bottom}Z`;
};

function BodyCut({ route, frame, hatch }: { route: Route; frame: Frame; hatch: string }) {
  const seat = find(route, "body_seat")?.at_mm ?? 0;
  const throat = (find(route, "throat")?.diameter_mm ?? 40) / 2;
  const flange = Math.max((find(route, "body_seat")?.diameter_mm ?? 60) / 2, throat + 4);
  const back = find(route, "body_back");
  const whole = Math.max((back?.diameter_mm ?? 90) / 2, flange + 3);
  // A body taller than the sheet is broken off, not squashed.
  const room = Math.min(frame.axisY - 58, frame.height - frame.axisY - 2) / frame.scale;
  const broken = whole > room;
  const half = broken ? whole + 20 : whole;
  const rear = back?.at_mm ?? seat - 50;
  const front = seat - 4.5;
  const wall = 2.6;
  const obstruction = find(route, "obstruction")?.at_mm;
  const sensor = (find(route, "sensor")?.diameter_mm ?? 40) / 2;
  const mountPlate: Point[] = [
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
    [rear + 3, half],
    [rear, half - 3],
    [rear, 0],
    [rear + wall, 0],
    [rear + wall, half - 4.4],
    [rear + 4.4, half - wall],
    [front - 6, half - wall],
    [front - wall, half - 6],
    [front - wall, throat + 2.4],
  ];
  // The chamber's frame: what a rear element would meet first.
  const chamber: Point[] | null =
    obstruction === undefined
      ? null
      : [
          [obstruction, sensor + 1],
          [obstruction, sensor + 5],
          [1.4, sensor + 5],
          [1.4, sensor + 1],
        ];
  const clip = useId().replace(/[^a-zA-Z0-9]/g, "");
  const edge = (side: 1 | -1) => frame.axisY - side * room * frame.scale;
  const from = xOf(frame, front) - 6;
  const to = xOf(frame, rear) + 6;
  return (
    <g className="cut body">
      <clipPath id={clip}>
        <rect x="0" y={edge(1)} width={frame.width} height={edge(-1) - edge(1)} />
      </clipPath>
      <g clipPath={broken ? `url(#${clip})` : undefined}>
      {both(shell).map((points, index) => (
        <path key={index} d={outline(frame, points)} fill={hatch} />
      ))}
      </g>
      {broken &&
        ([1, -1] as const).map((side) => (
          <path key={side} className="broken-off" d={zigzag(from, Math.min(to, frame.width), edge(side))} />
        ))}
      {both(mountPlate).map((points, index) => (
        <path key={index} className="solid" d={outline(frame, points)} />
      ))}
      {chamber &&
        both(chamber).map((points, index) => <path key={index} className="chamber" d={outline(frame, points)} />)}
    </g>
  );
}

const zigzag = (from: number, to: number, y: number) => {
  const middle = (from + to) / 2;
  return `M${from.toFixed(1)} ${y.toFixed(1)}H${(middle - 8).toFixed(1)}l5 -5 6 10 5 -5H${to.toFixed(1)}`;
};

function AdapterCut({ route, frame, piece, hatch, row }: { route: Route; frame: Frame; piece: Piece; hatch: string; row: number }) {
  const own = (kind: string) => route.stations.find((station) => station.kind === kind && station.link === piece.id);
  const rear = own("adapter_rear")?.at_mm ?? 0;
  const front = own("adapter_front")?.at_mm ?? 0;
  const outer = (own("adapter_front")?.diameter_mm ?? 60) / 2;
  const bore = Math.min((own("bore_front")?.diameter_mm ?? outer * 1.3) / 2, outer - 2);
  const glass = own("glass");
  const filter = own("filter");
  const length = front - rear;
  const lip = Math.min(3, outer - bore - 1);
  const waisted = length > 13;
  const profile: Point[] = waisted
    ? [
        [rear, bore],
        [rear, outer - 1],
        [rear + 3.5, outer - 1],
        [rear + 4.5, outer - 3.4],
        [front - 5.5, outer - 3.4],
        [front - 4.5, outer],
        [front, outer],
        [front, bore],
      ]
    : [
        [rear, bore],
        [rear, outer],
        [front, outer],
        [front, bore],
      ];
  const tongue: Point[] = [
    [rear, bore],
    [rear, bore + lip],
    [rear - 3.2, bore + lip],
    [rear - 3.2, bore],
  ];
  const state = piece.owned > 0 ? "owned" : "to-buy";
  const needed = find(route, "needed_seat")?.at_mm ?? front;
  const labelX = Math.min(xOf(frame, needed), xOf(frame, front)) - 12;
  const labelY = frame.height - 6 - 16 * row;
  return (
    <g className={`cut adapter ${state}`} data-link={piece.id}>
      <path
        className="leader"
        d={`M${at(frame, (front + rear) / 2, -outer * 0.94)}V${labelY - 4}H${(labelX + 4).toFixed(1)}`}
      />
      <text className="piece-name" x={labelX} y={labelY} textAnchor="end">
        {piece.name}
      </text>
      {[...both(profile), ...both(tongue)].map((points, index) => (
        <path key={index} d={outline(frame, points)} fill={hatch} />
      ))}
      {glass && (
        <g className="glass">
          <path d={element(frame, glass.at_mm - 1.6, bore - 1, 3.2, piece.optics === "reducer" ? 3.4 : -2.2, piece.optics === "reducer" ? 1.2 : -1.6)} />
          <path d={element(frame, Math.max(glass.at_mm - 7, rear + 3), bore - 1.6, 2.2, -1.4, 2.2)} />
        </g>
      )}
      {filter && (
        <g className="glass">
          <path d={element(frame, filter.at_mm, bore + 1.5, 2, 0, 0)} />
        </g>
      )}
      {piece.iris && <path className="iris" d={irisLines(frame, (front + rear) / 2, bore)} />}
    </g>
  );
}

const irisLines = (frame: Frame, z: number, bore: number) =>
  [1, -1].map((side) => `M${at(frame, z, side * bore)}L${at(frame, z, side * bore * 0.5)}`).join("");

function LensCut({ route, frame, hatch }: { route: Route; frame: Frame; hatch: string }) {
  const seat = find(route, "lens_seat")?.at_mm ?? 0;
  const flange = (find(route, "lens_seat")?.diameter_mm ?? 60) / 2;
  const frontStation = find(route, "lens_front");
  const front = frontStation?.at_mm ?? seat + 40;
  const outer = (frontStation?.diameter_mm ?? 60) / 2;
  const vertex = find(route, "rear_vertex");
  const rearHalf = vertex?.diameter_mm ? vertex.diameter_mm / 2 : outer * 0.55;
  const length = front - seat;
  const z = (share: number) => seat + length * share;
  const pupils = [route, route.long_end].map((at) => (at ? at.focal_length_mm / at.f_number / 2 : 0));
  const entrance = Math.min(Math.max(...pupils, outer * 0.42) + 2.5, outer - 3.5);
  const rearGlass = Math.min(vertex?.at_mm ?? seat + 2, front - 34);
  const chamber = Math.min(outer - 3.6, Math.max(entrance, rearHalf) + 2.4);
  const barrel: Point[] = [
    [seat, rearHalf - 1.2],
    [seat, Math.min(flange - 0.8, outer + 2)],
    [seat + 3, Math.min(flange - 0.8, outer + 2)],
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
    [rearGlass + 14, chamber],
    [rearGlass + 12, rearHalf - 1.2],
    [seat, rearHalf - 1.2],
  ];
  const tail: Point[] | null = vertex
    ? [
        [seat, rearHalf - 1.6],
        [seat, rearHalf + 1],
        [vertex.at_mm, rearHalf],
        [vertex.at_mm, rearHalf - 1.6],
      ]
    : null;
  const mid = z(0.46);
  const ribs = Array.from({ length: 9 }, (_, index) => z(0.4 + index * 0.045));
  return (
    <g className="cut lens">
      {both(barrel).map((points, index) => (
        <path key={index} d={outline(frame, points)} fill={hatch} />
      ))}
      {tail && both(tail).map((points, index) => <path key={index} className="solid" d={outline(frame, points)} />)}
      <path
        className="ribs"
        d={ribs.map((rib) => [1, -1].map((side) => `M${at(frame, rib, side * outer)}L${at(frame, rib, side * (outer - 1.5))}`).join("")).join("")}
      />
      <g className="glass">
        <path d={element(frame, front - 6, entrance, 4.4, 3.4, -1)} />
        <path d={element(frame, front - 12, entrance * 0.88, 3, 2.2, -1.8)} />
        <path d={element(frame, rearGlass + 2.4, rearHalf - 2, 4.2, 0.6, 2.6)} />
        {length > 30 && <path d={element(frame, rearGlass + 9, Math.min(rearHalf - 2.4, entrance * 0.8), 2.4, -1.6, 1.8)} />}
      </g>
      <path
        className="iris"
        d={[1, -1].map((side) => `M${at(frame, mid, side * chamber)}L${at(frame, mid, side * entrance * 0.62)}`).join("")}
      />
      {frame.breakFrom !== null && <BreakLine frame={frame} half={outer + 3} />}
    </g>
  );
}

/** Where part of a long barrel is left out, so that the rest may stay to scale. */
function BreakLine({ frame, half }: { frame: Frame; half: number }) {
  const x = frame.sensorX - (frame.breakFrom ?? 0) * frame.scale;
  const top = frame.axisY - half * frame.scale;
  const bottom = frame.axisY + half * frame.scale;
  const wave = (shift: number) =>
    `M${x + shift} ${top}c7 ${(bottom - top) / 6} -7 ${(bottom - top) / 3} 0 ${(bottom - top) / 2}s7 ${(bottom - top) / 3} 0 ${(bottom - top) / 2}`;
  return (
    <g className="break">
      <path className="break-gap" d={wave(0)} />
      <path d={wave(-3.5)} />
      <path d={wave(3.5)} />
      <text x={x} y={top - 8} textAnchor="middle">{`${mm(frame.removed, 0)} mm left out`}</text>
    </g>
  );
}

/** Where parts can be broken, the light gives way to a cross at the joint. */
function Crossed({ route, frame }: { route: Route; frame: Frame }) {
  const links = new Set(route.findings.filter((finding) => finding.grade_cap === "danger").map((finding) => finding.link));
  const joint =
    route.stations.find(({ kind, link }) => links.has(link) && (kind === "adapter_front" || kind === "body_seat")) ??
    find(route, "lens_seat");
  if (!joint) return null;
  const x = xOf(frame, joint.at_mm);
  const half = ((joint.diameter_mm ?? 60) / 2) * 0.62 * frame.scale;
  return (
    <g className="crossed">
      {[-half, half].map((offset) => (
        <path key={offset} d={`M${x - 16} ${frame.axisY + offset - 16}l32 32m0 -32l-32 32`} />
      ))}
    </g>
  );
}

function SensorLine({ route, frame }: { route: Route; frame: Frame }) {
  const half = (find(route, "sensor")?.diameter_mm ?? 0) / 2;
  const mode = (find(route, "mode")?.diameter_mm ?? 0) / 2;
  const x = frame.sensorX;
  const y = (r: number) => frame.axisY - r * frame.scale;
  return (
    <g className="sensor">
      <circle className="film-plane" cx={x} cy={frame.height - 12} r="5" />
      <path className="plane" d={`M${x} 0V${frame.height}`} />
      <rect x={x} y={y(half)} width={Math.max(3, frame.scale)} height={2 * half * frame.scale} className="chip" />
      <rect x={x - 1.5} y={y(mode)} width="3" height={2 * mode * frame.scale} className="in-use" data-station="mode" />
    </g>
  );
}

/** The contacts: from the body towards the lens, ending in a gap at the link that limits them. */
function Wire({ report, route, frame }: Props) {
  const body = report.pieces[report.body];
  const lens = report.pieces[report.lens];
  if (!body || !lens || body.kind !== "body") return null;
  const ends = route.wire.ends_at;
  if (ends === report.body) return null;
  const seat = find(route, "body_seat")?.at_mm ?? 0;
  const throat = (find(route, "throat")?.diameter_mm ?? 40) / 2;
  const lensSeat = find(route, "lens_seat")?.at_mm ?? 0;
  const joints = [...route.adapters].reverse().map((adapter) => {
    const own = (kind: string) => route.stations.find((station) => station.kind === kind && station.link === adapter);
    const rear = own("adapter_rear")?.at_mm ?? 0;
    const front = own("adapter_front")?.at_mm ?? 0;
    const outer = (own("adapter_front")?.diameter_mm ?? 60) / 2;
    const bore = Math.min((own("bore_front")?.diameter_mm ?? outer * 1.3) / 2, outer - 2);
    return { adapter, rear, front, r: -(bore + (outer - bore) * 0.36), link: report.pieces[adapter]?.link ?? "none" };
  });
  const start: Point = [Math.max(2, seat * 0.3), -(throat + 1.2)];
  const points: Point[] = [start, [seat, -(throat + 1.2)]];
  const dots: Point[] = [[seat, -(throat + 1.2)]];
  let gap: { from: Point; to: Point } | null = null;
  let chip: Point | null = null;
  let seatBehind = seat;
  for (const { adapter, rear, front, r, link } of joints) {
    if (ends === adapter) {
      const middle = (rear + front) / 2;
      const half = Math.min(3, (front - rear) / 4);
      if (link === "chip") {
        points.push([rear + 0.01, r], [middle, r]);
        chip = [middle, r];
      } else if (link === "none") {
        gap = { from: [seatBehind, r], to: [seatBehind + Math.min(4.5, (front - rear) / 2), r] };
      } else {
        points.push([rear + 0.01, r], [middle - half, r]);
        gap = { from: [middle - half, r], to: [middle + half, r] };
      }
      break;
    }
    points.push([rear + 0.01, r], [front, r]);
    dots.push([front, r]);
    seatBehind = front;
  }
  const last = joints[joints.length - 1]?.r ?? -(throat + 1.2);
  if (gap === null && chip === null && ends === null) points.push([lensSeat + 9, last]);
  if (gap === null && chip === null && ends !== null) gap = { from: [lensSeat, last], to: [lensSeat + 5, last] };
  const path = points.map(([z, r], index) => `${index ? "L" : "M"}${at(frame, z, r)}`).join("");
  const ring = ([z, r]: Point, key: string) => (
    <circle key={key} cx={xOf(frame, z)} cy={frame.axisY - r * frame.scale} r="3.2" className="terminal" />
  );
  return (
    <g className={`wire ${route.wire.slow ? "slow" : ""}`} data-ends-at={ends ?? "whole"}>
      <path className="casing" d={path} />
      <path d={path} />
      {dots.map(([z, r], index) => (
        <circle key={index} cx={xOf(frame, z)} cy={frame.axisY - r * frame.scale} r="2.6" className="joint" />
      ))}
      {gap && ring(gap.from, "from")}
      {gap && ring(gap.to, "to")}
      {chip && <rect className="terminal" x={xOf(frame, chip[0]) - 5} y={frame.axisY - chip[1] * frame.scale - 5} width="10" height="10" />}
      {ends === null && ring([lensSeat + 9, last], "end")}
    </g>
  );
}

/** What the lens needs, over what stands there: pieces and body. */
function Dimensions({ report, route, frame }: Props) {
  const lens = report.pieces[report.lens];
  const body = report.pieces[report.body];
  const seat = find(route, "lens_seat")?.at_mm ?? 0;
  const bodySeat = find(route, "body_seat")?.at_mm ?? 0;
  const glass = route.adapters.some((id) => (report.pieces[id]?.optics ?? "none") !== "none");
  const rows: { y: number; from: number; to: number; label: string; key: string }[] = [];
  if (lens?.register_mm && !glass) {
    rows.push({ y: 18, from: seat, to: seat - lens.register_mm, label: `the lens needs ${mm(lens.register_mm)}`, key: "lens" });
  }
  let front = seat;
  for (const id of route.adapters) {
    const piece = report.pieces[id];
    const length = piece?.length_mm ?? 0;
    rows.push({ y: 42, from: front, to: front - length, label: mm(length), key: id });
    front -= length;
  }
  rows.push({ y: 42, from: bodySeat, to: 0, label: mm(body?.register_mm ?? bodySeat), key: "body" });
  return (
    <g className="dimensions">
      {rows.map(({ y, from, to, label, key }, index) => {
        const left = xOf(frame, from);
        const right = xOf(frame, to);
        const narrow = isNarrow(frame, { from, to });
        // Thin pieces in a row stand their figures one below the other.
        const lower = narrow ? 15 * rows.slice(0, index).filter((row) => isNarrow(frame, row)).length : 0;
        return (
          <g key={key} data-dimension={key}>
            <path d={`M${left.toFixed(2)} ${y - 6}V${frame.axisY * 0.36}M${right.toFixed(2)} ${y - 6}V${y + 8}`} className="extension" />
            <path d={`M${left.toFixed(2)} ${y}H${right.toFixed(2)}`} />
            <path d={tick(left, y) + tick(right, y)} className="tick" />
            <text x={narrow ? left - 6 : (left + right) / 2} y={narrow ? y + 4 + lower : y - 5} textAnchor={narrow ? "end" : "middle"}>
              {label}
            </text>
          </g>
        );
      })}
    </g>
  );
}

const isNarrow = (frame: Frame, row: { from: number; to: number }) => xOf(frame, row.to) - xOf(frame, row.from) < 34;

const tick = (x: number, y: number) => `M${x - 3} ${y + 3}L${x + 3} ${y - 3}`;

function ScaleBar({ frame }: { frame: Frame }) {
  const x = frame.width - 12 - 10 * frame.scale;
  const y = frame.height - 10;
  return (
    <g className="scale-bar">
      <path d={`M${x} ${y - 4}v4h${10 * frame.scale}v-4`} />
      <text x={x + 5 * frame.scale} y={y - 6} textAnchor="middle">
        10 mm
      </text>
    </g>
  );
}
