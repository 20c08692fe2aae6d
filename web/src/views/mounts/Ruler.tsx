import "./Ruler.css";

import type { SystemsReport } from "../../api/client";
import { useWidth } from "../../parts/useWidth";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { mm, signedMm } from "../../parts/format";
import { type Crossing, type Crossings, JOINT_WORDS, type Side, type System } from "./crossings";
import { Plain } from "../../parts/Plain";

interface Props {
  report: SystemsReport;
  crossings: Crossings;
  chosen: System | null;
  side: Side;
  onChoose: (id: string) => void;
}

const ROW = { wide: 33, narrow: 40 };
const HEAD = 30;

/**
 * Every system's seat on one ruler from the sensor plane; with one chosen, the room between it and the
 * others.
 */
export function Ruler({ report, crossings, chosen, side, onChoose }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const wide = width >= 820;
  const right = wide ? Math.min(560, width * 0.45) : 92;
  const left = wide ? 168 : 96;
  const longest = Math.max(20, ...report.systems.map(({ register_mm }) => register_mm ?? 0));
  const scale = Math.max(2, Math.floor(((width - left - right) / longest) * 4) / 4);
  const sensor = width - right;
  const x = (z: number) => sensor - z * scale;
  const row = wide ? ROW.wide : ROW.narrow;
  const height = HEAD + report.systems.length * row + 10;
  return (
    <div className="ruler" ref={ref}>
      {width > 0 && (
        <>
          <svg
            width={width}
            height={height}
            viewBox={`0 0 ${width} ${height}`}
            data-scale={scale}
            data-sensor={sensor}
            aria-hidden="true"
          >
            <defs>
              <pattern id="ring" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
                <rect width="5" height="5" className="metal" />
                <path d="M0 2.5H5" className="hatch" />
              </pattern>
              <pattern id="deep" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
                <path d="M0 2.5H5" className="deep-line" />
              </pattern>
            </defs>
            <Scale x={x} longest={longest} height={height} />
            {report.systems.map((system, index) => (
              <Row
                key={system.id}
                system={system}
                chosen={chosen}
                crossing={chosen ? crossings.of(side, chosen.id, system.id) : undefined}
                x={x}
                y={HEAD + index * row + row / 2}
              />
            ))}
            {chosen?.register_mm != null && (
              <path className="ruler-chosen" d={`M${x(chosen.register_mm)} ${HEAD - 6}V${height}`} />
            )}
            <path className="ruler-sensor" d={`M${sensor} 8V${height}`} />
            <circle className="film-plane" cx={sensor} cy="8" r="4.5" />
          </svg>
          <ol className="ruler-rows" style={{ top: HEAD }}>
            {report.systems.map((system) => {
              const crossing = chosen ? crossings.of(side, chosen.id, system.id) : undefined;
              return (
                <li key={system.id} style={{ height: row }}>
                  <Plain
                    className="ruler-row"
                    aria-pressed={system.id === chosen?.id}
                    data-system={system.id}
                    style={{ paddingLeft: sensor + 12 }}
                    onClick={() => onChoose(system.id)}
                  >
                    <span
                      className="ruler-name"
                      style={{
                        right: width - x(Math.max(system.register_mm ?? 0, chosen?.register_mm ?? 0)) + (wide ? 14 : 7),
                      }}
                    >
                      {system.name}
                    </span>
                    <Told system={system} crossing={crossing} wide={wide} />
                  </Plain>
                </li>
              );
            })}
          </ol>
        </>
      )}
    </div>
  );
}

/** The figures of one row: of the system, or of what lies between it and the chosen one. */
function Told({ system, crossing, wide }: { system: System; crossing: Crossing | undefined; wide: boolean }) {
  if (!crossing) {
    return (
      <>
        <span className="ruler-figure">{system.register_mm === null ? "not known" : mm(system.register_mm)}</span>
        {wide && (
          <span className="ruler-said">
            {[system.thread ? `screw ${system.thread}` : system.coupling.replace("_", " "), kept(system)]
              .filter(Boolean)
              .join(", ")}
          </span>
        )}
      </>
    );
  }
  const bare = crossing.lens_mount === crossing.body_mount;
  return (
    <>
      <span className="ruler-figure">{bare || crossing.room_mm === null ? "" : signedMm(crossing.room_mm)}</span>
      {wide && (
        <>
          <span className="ruler-said">{bare ? "" : JOINT_WORDS[crossing.joint]}</span>
          <span className="ruler-ways">{waysOf(crossing)}</span>
        </>
      )}
      <span className="ruler-grade">
        {crossing.grade && <GradeMark grade={crossing.grade} size={20} />}
        {wide && crossing.grade && <span>{gradeTitle(crossing.grade)}</span>}
      </span>
    </>
  );
}

const kept = ({ lenses, bodies }: System) =>
  [
    lenses ? `${lenses} ${lenses === 1 ? "lens" : "lenses"}` : "",
    bodies ? `${bodies} ${bodies === 1 ? "body" : "bodies"}` : "",
  ]
    .filter(Boolean)
    .join(", ");

const waysOf = ({ ways }: Crossing) => (ways === 0 ? "no adapter" : ways === 1 ? "1 route" : `${ways} routes`);

function Scale({ x, longest, height }: { x: (z: number) => number; longest: number; height: number }) {
  const marks = Array.from({ length: Math.floor(longest) + 2 }, (_, index) => index);
  const every = x(0) - x(10) < 36 ? 20 : 10;
  return (
    <g className="ruler-scale">
      <path d={`M${x(0)} ${HEAD - 8}H${x(longest + 1)}`} />
      <path d={marks.map((z) => `M${x(z)} ${HEAD - 8}v${z % 10 === 0 ? -9 : z % 5 === 0 ? -6 : -3}`).join("")} />
      <path
        className="ruler-grid"
        d={marks
          .filter((z) => z % 10 === 0)
          .map((z) => `M${x(z)} ${HEAD - 8}V${height}`)
          .join("")}
      />
      {marks
        .filter((z) => z % every === 0 && z > 0)
        .map((z) => (
          <text key={z} x={x(z) + 4} y={HEAD - 13}>
            {z}
          </text>
        ))}
    </g>
  );
}

/** One system: a line from the sensor to its seat, the flange in section, and the room to the chosen one. */
function Row({
  system,
  chosen,
  crossing,
  x,
  y,
}: {
  system: System;
  chosen: System | null;
  crossing: Crossing | undefined;
  x: (z: number) => number;
  y: number;
}) {
  const seat = system.register_mm;
  if (seat === null) return null;
  const half = 11;
  const bore = 4.5;
  const other = chosen?.register_mm ?? seat;
  const between = crossing && chosen && chosen.id !== system.id ? crossing : null;
  const room = between?.room_mm ?? 0;
  return (
    <g className={`ruler-mount ${system.id === chosen?.id ? "is-chosen" : ""}`} data-mount={system.id}>
      <path className="ruler-path" d={`M${x(0)} ${y}H${x(seat)}`} />
      {between && Math.abs(room) > 0.005 && (
        <g
          className={`ruler-room ${room > 0 ? between.joint : "deep"} ${between.ways ? "offered" : ""}`}
          data-room={room}
        >
          {[-1, 1].map((s) => (
            <rect
              key={s}
              x={x(Math.max(seat, other))}
              y={s < 0 ? y - half : y + bore}
              width={Math.abs(seat - other) * (x(0) - x(1))}
              height={half - bore}
            />
          ))}
        </g>
      )}
      {[-1, 1].map((s) => (
        <path
          key={s}
          className="ruler-flange"
          d={`M${x(seat)} ${y + s * bore}V${y + s * half}h5V${y + s * bore}Z`}
          data-seat={seat}
        />
      ))}
    </g>
  );
}
