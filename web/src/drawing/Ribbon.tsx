import "./Ribbon.css";

import type { Route, Subject as MarkedSubject } from "../api/client";
import { knownDistance } from "../parts/format";
import { fails, longOf, wideOf } from "./scene";

const FAR = 100_000;

interface Subject {
  at: number;
  name: string;
}

/** Those whose names do not run into one another, the nearer ones first. */
function roomy(subjects: readonly Subject[], x: (mm: number) => number, width: number): Subject[] {
  let free = width;
  return subjects.filter(({ at, name }) => {
    const half = name.length * 3.2;
    const last = x(at) > width - 60;
    const right = last ? x(at) : x(at) + half;
    if (right > free) return false;
    free = (last ? x(at) - 2 * half : x(at) - half) - 10;
    return free > 40;
  });
}

/** The states of which a range is told. */
const TOLD: ReadonlySet<string> = new Set(["finite", "to_infinity"]);

interface Props {
  route: Route;
  /** What people photograph, and from how far. */
  subjects: readonly MarkedSubject[];
  units: "metric" | "imperial";
  width: number;
}

/** Subject distances on a logarithmic scale, infinity as a wall at the subject's end. */
export function Ribbon({ route, subjects: marked, units, width }: Props) {
  const subjects = marked
    .map(({ name, distance_m: metres }) => ({ name, at: metres * 1000 }))
    .sort((one, other) => one.at - other.at);
  const height = 70;
  const wall = 34;
  const { focus, native, infinity } = wideOf(route);
  const long = longOf(route);
  const nears = [focus.near_mm, native.near_mm, long?.focus.near_mm].filter(
    (value): value is number => typeof value === "number" && value > 0,
  );
  const least = Math.min(100, ...nears.map((value) => value * 0.8));
  const decades = Math.log10(FAR / least);
  const x = (mm: number) =>
    wall + (Math.log10(FAR / Math.min(Math.max(mm, least), FAR)) / decades) * (width - wall - 8);
  const end = (mm: number | null) => (mm === null ? 0 : mm > FAR ? wall - 8 : x(mm));
  const bar = (near: number | null, far: number | null, y: number, thick: number, className: string) => {
    const left = end(far);
    const right = near === null ? width : x(near);
    return (
      <rect
        className={`${className} ${near === null ? "open-end" : ""}`}
        x={left}
        y={y}
        width={Math.max(1.5, right - left)}
        height={thick}
      />
    );
  };
  const metric = width > 600 ? [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50] : [0.1, 0.4, 1, 4, 20];
  const imperial = width > 600 ? [0.5, 1, 2, 4, 8, 16, 33, 66, 165] : [0.5, 2, 8, 33];
  const marks = (units === "metric" ? metric : imperial).map((value) =>
    units === "metric" ? value * 1000 : value * 304.8,
  );
  const near = knownDistance(focus.near_mm, units, "an unknown distance");
  const far = knownDistance(focus.far_mm, units, "infinity");
  const told = !fails(route) && TOLD.has(focus.state);
  const said = told
    ? `Sharp from ${near} to ${far}.`
    : fails(route)
      ? "It does not work."
      : "It is not known what comes into focus.";
  return (
    <svg
      className={fails(route) ? "ribbon off" : "ribbon"}
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`Distances. ${said}`}
    >
      <defs>
        <pattern id="lost" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 3H6" className="hatch" />
        </pattern>
      </defs>
      <rect className="ribbon-bed" x={0} y={22} width={width} height={18} />
      {bar(native.near_mm, null, 22, 18, "native-only")}
      {told && bar(focus.near_mm, focus.far_mm, 22, 18, "reached")}
      {told && focus.state === "finite" && infinity.from_f_number !== null && focus.far_mm !== null && (
        <rect className="reached enough" x={0} y={22} width={end(focus.far_mm)} height={18} />
      )}
      {told && long && TOLD.has(long.focus.state) && bar(long.focus.near_mm, long.focus.far_mm, 35, 5, "reached long")}
      <rect className="wall" x={0} y={16} width={7} height={30} />
      <text x={12} y={13} className="wall-text">
        infinity
      </text>
      {marks
        .filter((value) => value >= least && value <= FAR)
        .map((value) => (
          <g key={value} className="mark">
            <path d={`M${x(value).toFixed(1)} 40v6`} />
            <text x={x(value)} y={59} textAnchor={x(value) > width - 24 ? "end" : "middle"}>
              {units === "metric"
                ? value < 1000
                  ? `${value / 10} cm`
                  : `${value / 1000} m`
                : `${Math.round((value / 304.8) * 10) / 10} ft`}
            </text>
          </g>
        ))}
      {roomy(
        subjects.filter(({ at }) => at >= least && x(at) > 90),
        x,
        width,
      ).map(({ at, name }) => (
        <g key={name} className="subject">
          <path d={`M${x(at).toFixed(1)} 17v25`} />
          <text x={x(at)} y={13} textAnchor={x(at) > width - 60 ? "end" : "middle"}>
            {name}
          </text>
        </g>
      ))}
    </svg>
  );
}
