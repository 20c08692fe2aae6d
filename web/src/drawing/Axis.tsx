import "./Axis.css";

import type { Scale } from "./axes";

interface Props {
  scale: Scale;
  ticks: readonly number[];
  /** Where the axis lies: below what it measures, or left of it. */
  place: "below" | "left";
  /** Where it stands across, and how far its fine lines go over the drawing; in pixels. */
  at: number;
  across: number;
  write: (value: number) => string;
  label: string;
}

/** One axis of a chart: a line, its ticks with fine lines over the chart, and what it counts. */
export function Axis({ scale, ticks, place, at, across, write, label }: Props) {
  const [from, to] = scale.range;
  const lies = place === "below";
  return (
    <g className="chart-axis" aria-hidden="true">
      {ticks.map((tick) => {
        const place = scale(tick);
        return (
          <g key={tick}>
            <path className="axis-fine" d={lies ? `M${place} ${at}v${-across}` : `M${at} ${place}h${across}`} />
            <path d={lies ? `M${place} ${at}v5` : `M${at} ${place}h-5`} />
            <text x={lies ? place : at - 8} y={lies ? at + 18 : place + 4} textAnchor={lies ? "middle" : "end"}>
              {write(tick)}
            </text>
          </g>
        );
      })}
      <path d={lies ? `M${from} ${at}H${to}` : `M${at} ${from}V${to}`} />
      <text
        className="axis-label"
        x={lies ? Math.max(from, to) : at - 34}
        y={lies ? at + 34 : Math.min(from, to) - 8}
        textAnchor={lies ? "end" : "start"}
      >
        {label}
      </text>
    </g>
  );
}
