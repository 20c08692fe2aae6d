import "./DistanceBars.css";

import { distance, shortened } from "../parts/format";
import { useWidth } from "../parts/useWidth";
import { Axis } from "./Axis";
import { distanceTicks, ratioScale } from "./axes";
import { Hatch } from "./Hatch";

const ROW = 24;
const TOP = 8;
const BOTTOM = 44;
const WALL = 34;
const LETTER_PX = 7;

export interface Bar {
  key: string;
  label: string;
  /** From here to there, in metres; null behind is infinity. */
  near_m: number | null;
  far_m: number | null;
  /** A ring on the bar's row. */
  mark_m: number | null;
  chosen: boolean;
  /** What is said instead where there is no range. */
  says: string;
}

interface Props {
  name: string;
  bars: readonly Bar[];
  units: "metric" | "imperial";
  /** Where it is focused. */
  at?: number;
  onChoose?: (key: string) => void;
}

/** Ranges of sharp distances under each other on one scale of ratios, infinity as a wall at its end. */
export function DistanceBars({ name, bars, units, at, onChoose }: Props) {
  const [box, width] = useWidth<HTMLElement>();
  if (width === 0) return <figure ref={box} className="distance-bars" />;
  const longest = Math.max(...bars.map(({ label }) => label.length));
  const left = Math.min(24 + longest * LETTER_PX, 210, width * 0.34);
  const right = width - WALL;
  const height = TOP + bars.length * ROW + BOTTOM;
  const held = bars.flatMap((bar) => [bar.near_m, bar.far_m, bar.mark_m]).filter((value) => value !== null);
  const x = ratioScale([...held, ...(at === undefined ? [] : [at])], [left, right], 1.25);
  const place = (metres: number | null) => (metres === null ? width - 8 : Math.min(x(metres), right));
  return (
    <figure ref={box} className="distance-bars" data-bars={name}>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        width={width}
        height={height}
        role="img"
        aria-label={describe(bars, units)}
      >
        <Hatch id="bar-hatch" />
        <rect className="bar-wall" x={width - 10} y={TOP} width="8" height={height - TOP - BOTTOM} />
        <Axis
          scale={x}
          ticks={distanceTicks(x, 56)}
          place="below"
          at={height - BOTTOM}
          across={height - BOTTOM - TOP}
          write={(metres) => distance(metres * 1000, units)}
          label="from the sensor"
        />
        {at !== undefined && <path className="bar-at" d={`M${x(at)} ${TOP}V${height - BOTTOM}`} />}
        {bars.map((bar, index) => {
          const y = TOP + index * ROW;
          const from = bar.near_m === null ? null : x(bar.near_m);
          return (
            <g
              key={bar.key}
              className={bar.chosen ? "bar chosen" : "bar"}
              data-bar={bar.key}
              onClick={onChoose && (() => onChoose(bar.key))}
            >
              <text x={left - 10} y={y + ROW / 2 + 5} textAnchor="end">
                {shortened(bar.label, (left - 16) / 14)}
              </text>
              {from === null ? (
                <text className="bar-says" x={left + 4} y={y + ROW / 2 + 5}>
                  {bar.says}
                </text>
              ) : (
                <rect x={from} y={y + 5} width={Math.max(2, place(bar.far_m) - from)} height={ROW - 10} />
              )}
              {bar.mark_m !== null && <circle cx={place(bar.mark_m)} cy={y + ROW / 2} r="5" />}
            </g>
          );
        })}
      </svg>
    </figure>
  );
}

function describe(bars: readonly Bar[], units: "metric" | "imperial"): string {
  const far = (metres: number | null) => (metres === null ? "infinity" : distance(metres * 1000, units));
  return bars
    .map((bar) => {
      const range = `from ${distance((bar.near_m ?? 0) * 1000, units)} to ${far(bar.far_m)}`;
      return `${bar.label}: ${bar.near_m === null ? bar.says : range}`;
    })
    .join("; ");
}
