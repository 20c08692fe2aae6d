import { type KeyboardEvent, type PointerEvent, useRef } from "react";

import type { BenchQuantity } from "../../api/benchQueries";
import { type Bed, endOf, openingAt } from "./caliperScale";

interface Props {
  bed: Bed;
  quantity: BenchQuantity;
  openingMm: number;
  display: string;
  touching: boolean;
  /** The jaws can be moved by hand: a simulated caliper. */
  onMove: ((mm: number) => void) | null;
}

const BEAM = 16;
const BOX = { width: 132, height: 40 };

/** A caliper on the piece: a beam, a fixed jaw at the datum, and one that moves with the display. */
export function Caliper({ bed, quantity, openingMm, display, touching, onMove }: Props) {
  const end = endOf(bed, openingMm);
  const grip = useRef<number | null>(null);
  const move = (event: PointerEvent<SVGGElement>) => {
    if (grip.current === null || onMove === null) return;
    const svg = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (svg) onMove(openingAt(bed, event.clientX - svg.left - grip.current));
  };
  const keyed = (event: KeyboardEvent) => {
    const steps: Record<string, number> = { ArrowLeft: bed.way, ArrowRight: -bed.way };
    const step = steps[event.key];
    if (onMove === null) return;
    if (event.key === "Home") onMove(0);
    else if (step !== undefined) onMove(Math.max(0, openingMm + step * (event.shiftKey ? 1 : 0.1)));
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const box = Math.min(Math.max(end - BOX.width / 2, 4), bed.width - BOX.width - 4);
  const below = quantity.jaws === "inside" || quantity.jaws === "outside";
  return (
    <g className={touching ? "caliper touching" : "caliper"}>
      <Beam bed={bed} />
      <path className="caliper-jaw" d={fixedJaw(bed, quantity)} />
      <g
        className={onMove ? "caliper-slide movable" : "caliper-slide"}
        role={onMove ? "slider" : "img"}
        tabIndex={onMove ? 0 : undefined}
        aria-label={`Jaws of the caliper, ${quantity.label}`}
        aria-valuemin={onMove ? 0 : undefined}
        aria-valuemax={onMove ? 200 : undefined}
        aria-valuenow={onMove ? Number(openingMm.toFixed(2)) : undefined}
        aria-valuetext={onMove ? `${display}${touching ? ", touching" : ""}` : undefined}
        onPointerDown={(event) => {
          if (onMove === null) return;
          const svg = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
          grip.current = svg ? event.clientX - svg.left - end : 0;
          event.currentTarget.setPointerCapture(event.pointerId);
        }}
        onPointerMove={move}
        onPointerUp={() => (grip.current = null)}
        onPointerCancel={() => (grip.current = null)}
        onKeyDown={keyed}
        data-opening={openingMm.toFixed(4)}
      >
        <path className="caliper-jaw" d={movingJaw(bed, quantity, end)} />
        <g transform={`translate(${box} ${below ? bed.beam - 4 : bed.beam - BOX.height + 8})`}>
          <rect className="caliper-box" width={BOX.width} height={BOX.height} />
          <rect className="caliper-glass" x="7" y="6" width={BOX.width - 14} height={BOX.height - 12} />
          <text className="caliper-digits" x={BOX.width - 36} y={BOX.height - 13} textAnchor="end">
            {display}
          </text>
          <text className="caliper-unit" x={BOX.width - 32} y={BOX.height - 13}>
            mm
          </text>
        </g>
      </g>
    </g>
  );
}

function Beam({ bed }: { bed: Bed }) {
  const [from, to] = [endOf(bed, -5), endOf(bed, 200)];
  const [left, right] = [Math.max(6, Math.min(from, to)), Math.min(bed.width - 6, Math.max(from, to))];
  const marks = Array.from({ length: 201 }, (_, mm) => ({ mm, x: endOf(bed, mm) })).filter(
    ({ mm, x }) => x > left + 3 && x < right - 3 && (bed.scale > 3 || mm % 5 === 0),
  );
  return (
    <>
      <rect className="caliper-beam" x={left} y={bed.beam} width={right - left} height={BEAM} />
      {marks.map(({ mm, x }) => (
        <path
          key={mm}
          className="caliper-tick"
          d={`M${x} ${bed.beam + BEAM}v${mm % 10 === 0 ? -10 : mm % 5 === 0 ? -7 : -4}`}
        />
      ))}
    </>
  );
}

/** How far down a jaw reaches: past the edge of the piece, short of its bore. */
const reachOf = (bed: Bed) => bed.edge + Math.min(26, (bed.axis - bed.edge) * 0.28);

function fixedJaw(bed: Bed, quantity: BenchQuantity): string {
  const x = bed.datum;
  if (quantity.jaws === "inside") return `M${x} ${bed.axis - 20}V${bed.beam + BEAM}h14V${bed.axis - 6}Z`;
  if (quantity.jaws === "outside") return `M${x} ${bed.axis - 20}V${bed.beam + BEAM}h-16V${bed.axis}Z`;
  // A depth rod goes out of a foot that lies flat on the seat.
  if (quantity.jaws === "depth") return `M${x} ${bed.beam}V${reachOf(bed)}h-14V${bed.beam}Z`;
  return `M${x} ${bed.beam}V${reachOf(bed)}l16 -18V${bed.beam}Z`;
}

function movingJaw(bed: Bed, quantity: BenchQuantity, x: number): string {
  if (quantity.jaws === "inside") return `M${x} ${bed.axis - 20}V${bed.beam + BEAM}h-14V${bed.axis - 6}Z`;
  if (quantity.jaws === "outside") return `M${x} ${bed.axis - 20}V${bed.beam + BEAM}h16V${bed.axis}Z`;
  if (quantity.jaws === "depth") return `M${bed.datum} ${reachOf(bed) - 7}H${x}v5H${bed.datum}Z`;
  return `M${x} ${bed.beam}V${reachOf(bed)}l-16 -18V${bed.beam}Z`;
}
