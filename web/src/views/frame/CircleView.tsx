import "./CircleView.css";

import { type KeyboardEvent, type PointerEvent, useLayoutEffect, useRef } from "react";

import type { FrameReport } from "../../api/client";
import { shiftedMargin, withinReach } from "../../drawing/circle";
import { mm, signedMm } from "../../parts/format";
import { word } from "../../parts/words";

const SIZE = 380;
const STEP = { plain: 0.5, fine: 0.1 };

export type Shift = readonly [across: number, up: number];

interface Props {
  report: FrameReport;
  /** The shift that is shown: while it is dragged, ahead of the report. */
  shift: Shift;
  onShift: (shift: Shift, settled: boolean) => void;
}

const ARROWS: Record<string, Shift> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** The image circle over the sensor and its modes, to scale; the sensor can be dragged within it. */
export function CircleView({ report, shift, onShift }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  // Keys may come faster than the address changes.
  const live = useRef(shift);
  useLayoutEffect(() => {
    live.current = shift;
  }, [shift]);
  const grip = useRef<{ x: number; y: number; from: Shift } | null>(null);
  const { width_mm: width, height_mm: height, image_circle_mm: circle, rise_mechanism_mm: most } = report;
  const widest = Math.max(circle ?? 0, Math.hypot(width, height) + 2 * most, 10) * 1.1;
  const scale = SIZE / widest;
  const middle = SIZE / 2;
  const travel = report.stabiliser_travel_mm ?? 0;
  const margin = circle === null ? null : shiftedMargin(circle, width, height, shift);
  const at = (event: PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    const k = box ? SIZE / box.width : 1;
    return { x: (event.clientX * k) / scale, y: (event.clientY * k) / scale };
  };
  const moved = (event: PointerEvent): Shift => {
    const from = grip.current;
    if (!from) return shift;
    const now = at(event);
    const to = [from.from[0] + now.x - from.x, from.from[1] - (now.y - from.y)] as const;
    const held = withinReach(to, most);
    return [Math.round(held[0] * 10) / 10, Math.round(held[1] * 10) / 10];
  };
  const pressed = (event: KeyboardEvent) => {
    const arrow = ARROWS[event.key];
    if (!arrow && event.key !== "Home") return;
    const step = event.shiftKey ? STEP.fine : STEP.plain;
    const [across, up] = live.current;
    const to: Shift = arrow ? [across + arrow[0] * step, up + arrow[1] * step] : [0, 0];
    const held = withinReach(to, most);
    live.current = [Math.round(held[0] * 10) / 10, Math.round(held[1] * 10) / 10];
    onShift(live.current, true);
    event.preventDefault();
    event.stopPropagation();
  };
  const rect = (w: number, h: number, grow = 0) => ({
    x: middle + (shift[0] - w / 2 - grow) * scale,
    y: middle - (shift[1] + h / 2 + grow) * scale,
    width: (w + 2 * grow) * scale,
    height: (h + 2 * grow) * scale,
  });
  const turned = report.upright ? ([w, h]: [number, number]) => [h, w] as const : (one: [number, number]) => one;
  return (
    <figure className="circle-view">
      <svg
        ref={svg}
        viewBox={`0 0 ${SIZE} ${SIZE}`}
        role="slider"
        tabIndex={0}
        aria-label={`Shift of the sensor in the ${word("image_circle")}`}
        aria-valuenow={shift[1]}
        aria-valuetext={`${signedMm(shift[0])} mm across, ${signedMm(shift[1])} mm up`}
        data-scale={scale}
        onKeyDown={pressed}
      >
        {circle === null ? (
          <circle className="circle-unknown" cx={middle} cy={middle} r={middle * 0.9} />
        ) : (
          <circle className="image-circle" cx={middle} cy={middle} r={(circle / 2) * scale} />
        )}
        {report.steep_from_mm !== null && report.steep_from_mm < widest / 2 && (
          <circle className="steep" cx={middle} cy={middle} r={report.steep_from_mm * scale}>
            <title>beyond this the light is steeper than the sensor likes</title>
          </circle>
        )}
        {most > 0 && <circle className="reach" cx={middle} cy={middle} r={most * scale} />}
        <path className="cross" d={`M${middle - 6} ${middle}h12M${middle} ${middle - 6}v12`} />
        {travel > 0 && <rect className="travel" {...rect(width, height, travel)} />}
        {report.modes.map((mode) => {
          const [w, h] = turned([mode.width_mm, mode.height_mm]);
          return mode.in_use ? null : <rect key={mode.name} className="mode" {...rect(w, h)} data-mode={mode.name} />;
        })}
        <rect
          className={margin !== null && margin < 0 ? "sensor dark" : "sensor"}
          {...rect(width, height)}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            grip.current = { ...at(event), from: shift };
          }}
          onPointerMove={(event) => {
            if (grip.current) onShift(moved(event), false);
          }}
          onPointerUp={(event) => {
            if (grip.current) onShift(moved(event), true);
            grip.current = null;
          }}
        >
          <title>{`the sensor in use, ${width} × ${height} mm`}</title>
        </rect>
        <path className="bar" d={`M14 ${SIZE - 14}v-5m0 5h${10 * scale}m0 0v-5`} />
        <text x={18 + 10 * scale} y={SIZE - 12}>
          10 mm
        </text>
      </svg>
      <figcaption data-margin={margin?.toFixed(3)}>{saidOf(circle, margin)}</figcaption>
    </figure>
  );
}

function saidOf(circle: number | null, margin: number | null): string {
  if (circle === null || margin === null) return `The ${word("image_circle")} is not known.`;
  const room =
    margin < 0
      ? `the farthest corner lies ${mm(-margin)} mm outside.`
      : `${mm(margin)} mm of room at the farthest corner.`;
  return `${word("image_circle")} ${mm(circle, 1)} mm: ${room}`;
}
