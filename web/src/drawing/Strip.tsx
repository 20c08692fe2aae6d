import "./Strip.css";

import type { End, Route } from "../api/client";
import { chance, fNumber, mm } from "../parts/format";
import { alongOf, dot, type Frame, lengthOf, place } from "./scale";
import { lensOf, openedForInfinity, type Scene, toleranceAssumed, wideOf } from "./scene";
import { area, type Put, type Seg, type Spot, Ticks } from "./StripTicks";
import { word } from "../parts/words";

/** Pixels per millimetre in the strip: hundredths become visible. */
export const stripScale = (length: number) => (length > 700 ? 420 : 200);

interface Props {
  scene: Scene;
  route: Route;
  /** Another route, whose place is marked too. */
  beside?: Route | null;
  frame: Frame;
  /** Where the strip begins across the axis, and how broad it is, in pixels. */
  start: number;
  breadth: number;
  leader: number;
  /** The stop whose share is shaded. */
  stop: number | null;
  onStop: (stop: number | null) => void;
}

/**
 * Hairlines from the seats into a strip magnified some hundred times, centred on where the lens should stand.
 * Towards the subject is farther from the sensor. Windows are N·c (K·N·c with glass) wide to either side.
 */
export function Strip(props: Props) {
  const { register_error_mm: error } = props.route;
  const { long_end_mm: long, short_end_mm: short } = wideOf(props.route).infinity;
  return error === null || long === null || short === null ? (
    <NotKnown {...props} />
  ) : (
    <Known {...props} at={error} long={long} short={short} />
  );
}

/** The bed alone: a register is not known, and nothing is drawn on it. */
function NotKnown({ frame, start, breadth }: Props) {
  const length = lengthOf(frame);
  const [x0, y0] = place(frame, 0, start);
  const [x1, y1] = place(frame, length, start + breadth);
  const [x, y] = place(frame, length / 2, start + breadth / 2);
  return (
    <g className="strip" data-state="not-known">
      <rect
        className="strip-bed"
        x={Math.min(x0, x1)}
        y={Math.min(y0, y1)}
        width={Math.abs(x1 - x0)}
        height={Math.abs(y1 - y0)}
      />
      <text className="strip-unknown" x={x} y={y} textAnchor="middle" dominantBaseline="middle">
        {frame.upright ? "not known" : "Where the lens stands is not known"}
      </text>
    </g>
  );
}

interface KnownProps extends Props {
  at: number;
  long: number;
  short: number;
}

const titleOf = (name: string, opened: number, error: number) =>
  opened > 0
    ? `${name}, the helicoid opened by ${mm(opened)} mm`
    : `${name}: ${word("flange_error")} ${mm(error, 3)} mm`;

function Known(props: KnownProps) {
  const { scene, route, beside = null, frame, start, breadth } = props;
  const { leader, stop, onStop, at, long, short } = props;
  const { upright } = frame;
  const length = lengthOf(frame);
  const scale = stripScale(length);
  const centre = length / 2;
  const along = (error: number) => centre - error * scale;
  const base = breadth - (upright ? 27 : 22);
  const half = length / 2 / scale;
  // A helicoid is drawn where it is set for infinity, which is where the lens should stand.
  const opened = openedForInfinity(route);
  const error = opened > 0 ? 0 : at;
  const { worst_case: worst, density, bounded } = route.register_tolerance_mm;
  const { stops } = wideOf(route).infinity;
  const past = error - short;
  const assumed = toleranceAssumed(route);
  const besideError = beside?.register_error_mm ?? 0;
  const travel = long - error;
  const seat = alongOf(frame, lensOf(scene)?.needed_seat_mm ?? 0);
  const name = scene.lens === null ? "Lens" : (scene.pieces[scene.lens]?.name ?? "Lens");
  const onStrip = Math.abs(error) < half - 0.08;
  const shaded = stops.find((entry) => entry.f_number === stop) ?? null;
  const p = (a: number, depth: number) => dot(frame, a, start + depth);
  const seg = (a0: number, d0: number, a1: number, d1: number) => `M${p(a0, d0)}L${p(a1, d1)}`;
  const rect = (a0: number, a1: number, d0: number, d1: number) => {
    const [x0, y0] = place(frame, Math.min(a0, a1), start + d0);
    const [x1, y1] = place(frame, Math.max(a0, a1), start + d1);
    return { x: x0, y: y0, width: Math.max(0, x1 - x0), height: Math.max(0, y1 - y0) };
  };
  const spot = (a: number, depth: number) => {
    const [x, y] = place(frame, a, start + depth);
    return { x, y };
  };
  const spread = (from: number, to: number) => area(along, p, error, route.register_tolerance_mm, base, from, to, half);
  return (
    <g className="strip" data-scale={scale} data-centre={centre}>
      <path className="loupe" d={`M${dot(frame, seat, start - leader)}L${p(0, 0)}L${p(length, 0)}Z`} />
      <path className="hairline" d={`M${dot(frame, seat, frame.axis)}L${dot(frame, seat, start - leader)}`} />
      <rect className="strip-bed" {...rect(0, length, 0, breadth)} />
      {travel > 0 && (
        <rect className="taken-up" {...rect(centre, Math.min(length, centre + travel * scale), base + 3, base + 7)} />
      )}
      {past > 0 && <rect className="taken-up" {...rect(Math.max(0, along(past)), centre, base + 3, base + 7)} />}
      {[...stops].reverse().map((entry) => (
        <rect
          key={entry.f_number}
          className={`window ${entry.f_number === stop ? "chosen" : ""}`}
          data-stop={entry.f_number}
          data-window={entry.window_mm}
          {...rect(along(entry.window_mm), along(-entry.window_mm), 1, base)}
          onPointerEnter={() => onStop(entry.f_number)}
          onPointerLeave={() => onStop(null)}
        />
      ))}
      <Ticks length={length} half={half} along={along} seg={seg} spot={spot} base={base} upright={upright} />
      {onStrip && density.length > 0 && (
        <>
          {shaded && <path className="share" d={spread(-shaded.window_mm - travel, shaded.window_mm + past)} />}
          <path className={assumed ? "bell assumed" : "bell"} d={spread(-half, half)} />
          {assumed && <Assumed d={spread(-half, half)} />}
          <path
            className="worst"
            d={
              seg(along(error + worst), base - 5, along(error + worst), base) +
              seg(along(error - worst), base - 5, along(error - worst), base) +
              seg(along(error + worst), base, along(error - worst), base)
            }
          />
        </>
      )}
      {beside && Math.abs(besideError) < half - 0.05 && (
        <g className="strip-beside">
          <path
            className="bell"
            d={area(along, p, besideError, beside.register_tolerance_mm, base, -half, half, half)}
          />
          <path className="stands" d={seg(along(besideError), 0, along(besideError), base + 8)} />
        </g>
      )}
      <path className="should" d={seg(centre, 0, centre, base + 8)} />
      {onStrip ? (
        <path className="stands" d={seg(along(error), 0, along(error), base + 8)} data-error={error} />
      ) : (
        <OffStrip error={error} length={length} middle={base / 2} p={p} spot={spot} upright={upright} />
      )}
      <Stops stops={stops} stop={stop} along={along} length={length} upright={upright} seg={seg} spot={spot} />
      {shaded && !upright && (
        <text className="share-text" x={centre + 12} y={start + 36}>
          {`sharp at ${fNumber(shaded.f_number)}: ${chance(shaded.probability, bounded)}`}
        </text>
      )}
      <SetNote opened={opened} upright={upright} length={length} spot={spot} />
      <Corners frame={frame} scale={scale} start={start} breadth={breadth} length={length} />
      <title>{titleOf(name, opened, error)}</title>
    </g>
  );
}

/** Hatched: what stands on a tolerance that nobody stated. */
function Assumed({ d }: { d: string }) {
  return (
    <>
      <defs>
        <pattern id="assumed" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 3H6" className="assumed-line" />
        </pattern>
      </defs>
      <path className="assumed-area" fill="url(#assumed)" d={d} />
    </>
  );
}

interface StopsProps {
  stops: Entry[];
  stop: number | null;
  along: (error: number) => number;
  length: number;
  upright: boolean;
  seg: Seg;
  spot: Spot;
}

/** The names of the stops at the edges of their windows. */
function Stops({ stops, stop, along, length, upright, seg, spot }: StopsProps) {
  return (
    <g className="stops">
      {labelled(stops, along, length, upright).map(({ entry, edge, left }) => (
        <g key={entry.f_number}>
          <path d={seg(edge, 6, edge, 18)} />
          <text
            {...(upright
              ? { x: spot(0, 22).x, y: edge + (left ? -4 : 12) }
              : { x: edge + (left ? -4 : 4), y: spot(0, 16).y })}
            textAnchor={left && !upright ? "end" : "start"}
            className={entry.f_number === stop ? "chosen" : ""}
          >
            {fNumber(entry.f_number)}
          </text>
        </g>
      ))}
    </g>
  );
}

/** That the helicoid is drawn opened, and how far. */
function SetNote({ opened, upright, length, spot }: { opened: number; upright: boolean; length: number; spot: Spot }) {
  if (opened <= 0) return null;
  const { x, y } = upright ? spot(length - 24, 4) : spot(length - 8, 36);
  return (
    <text className="set-text" x={x} y={y} textAnchor={upright ? "start" : "end"}>
      {upright ? `opened ${mm(opened)}` : `with the helicoid opened by ${mm(opened)} mm`}
    </text>
  );
}

function Corners({
  frame,
  scale,
  start,
  breadth,
  length,
}: {
  frame: Frame;
  scale: number;
  start: number;
  breadth: number;
  length: number;
}) {
  const times = `× ${Math.round(scale / frame.scale)}`;
  if (frame.upright) {
    return (
      <>
        <text className="corner-text" x={start + breadth - 4} y={14} textAnchor="end">
          ↑ too far
        </text>
        <text className="corner-text" x={start + breadth - 4} y={28} textAnchor="end">
          {times}
        </text>
        <text className="corner-text" x={start + breadth - 4} y={length - 6} textAnchor="end">
          ↓ too near
        </text>
      </>
    );
  }
  return (
    <>
      <text className="corner-text" x="8" y={start + 15}>{`${times}, too far ←`}</text>
      <text className="corner-text" x={length - 8} y={start + 15} textAnchor="end">
        → too near
      </text>
    </>
  );
}

function OffStrip({
  error,
  length,
  middle,
  p,
  spot,
  upright,
}: {
  error: number;
  length: number;
  middle: number;
  p: Put;
  spot: Spot;
  upright: boolean;
}) {
  const far = error > 0;
  const end = far ? (upright ? 40 : 12) : length - (upright ? 24 : 12);
  const tail = end + (far ? 26 : -26);
  const barb = end + (far ? 8 : -8);
  const text = upright ? spot(tail, middle) : spot(tail + (far ? 8 : -8), middle + 5);
  return (
    <g className="off-strip">
      <path
        d={`M${p(tail, middle)}L${p(end, middle)}M${p(barb, middle - 6)}L${p(end, middle)}L${p(barb, middle + 6)}`}
      />
      {upright ? (
        <text x={text.x} y={text.y + (far ? 18 : -8)} textAnchor="middle">
          {mm(Math.abs(error))}
        </text>
      ) : (
        <text x={text.x} y={text.y} textAnchor={far ? "start" : "end"}>
          {`it stands ${mm(Math.abs(error))} mm ${far ? "too far" : "too near"}`}
        </text>
      )}
    </g>
  );
}

type Entry = End["infinity"]["stops"][number];

/** The stops that have room for their name: the widest at its far edge, the others at their near edges. */
function labelled(stops: Entry[], along: (error: number) => number, length: number, upright: boolean) {
  const [widest, ...others] = stops;
  if (!widest) return [];
  const kept = [{ entry: widest, edge: along(widest.window_mm), left: true }];
  let taken = length - (upright ? 36 : 84);
  for (const entry of [...others].reverse()) {
    const edge = along(-entry.window_mm);
    if (edge + (upright ? 15 : 32) > taken) continue;
    kept.push({ entry, edge, left: false });
    taken = edge;
  }
  return kept;
}
