import type { BenchPiece, BenchQuantity } from "../../api/benchQueries";
import { Hatch } from "../Hatch";
import { type Bed, across } from "./caliperScale";

interface Props {
  piece: BenchPiece;
  quantity: BenchQuantity;
  bed: Bed;
}

/** The piece as far as a caliper meets it: half of it cut open along its axis, or seen from its end. */
export function PieceCut({ piece, quantity, bed }: Props) {
  return (
    <g className="bench-piece" data-piece={piece.id}>
      <Hatch id="bench-hatch" />
      {across(quantity) ? (
        <EndFace piece={piece} quantity={quantity} bed={bed} />
      ) : piece.kind === "adapters" ? (
        <Ring piece={piece} quantity={quantity} bed={bed} />
      ) : piece.kind === "bodies" ? (
        <Box piece={piece} quantity={quantity} bed={bed} />
      ) : (
        <Barrel piece={piece} bed={bed} />
      )}
    </g>
  );
}

/** Where the bore begins, under the edge. */
const innerOf = ({ outline }: BenchPiece, bed: Bed) =>
  bed.edge + ((outline.outer_mm - outline.inner_mm) / 2) * bed.scale;

/** What lies nearer to the axis is broken off here. */
function BrokenOff({ from, to, y }: { from: number; to: number; y: number }) {
  const waves = Math.max(2, Math.round((to - from) / 40));
  const step = (to - from) / waves;
  const path = Array.from({ length: waves }, () => `q${step / 4} -7 ${step / 2} 0t${step / 2} 0`).join("");
  return <path className="bench-break" d={`M${from} ${y}${path}`} />;
}

const rect = (x0: number, y0: number, x1: number, y1: number) => `M${x0} ${y0}H${x1}V${y1}H${x0}Z`;

function Ring({ piece, quantity, bed }: Props) {
  const long = quantity.to_mm * bed.scale;
  const [right, left] = [bed.datum, bed.datum - long];
  const inner = innerOf(piece, bed);
  const flange = Math.min(long * 0.28, 3 * bed.scale);
  const wall = bed.edge + (inner - bed.edge) * 0.36;
  // A flange at the lens's end, a step down to the wall, and the rim that goes into the body's mount.
  const cut =
    `M${left} ${bed.edge}H${left + flange}V${wall - 6}H${right}V${inner}H${left}Z` +
    rect(right, inner - (inner - bed.edge) * 0.3, right + 4 * bed.scale, inner);
  return (
    <>
      <path className="bench-metal" d={cut} />
      <path className="bench-cut" d={cut} fill="url(#bench-hatch)" />
      <BrokenOff from={left - 40} to={right + 60} y={bed.axis} />
      <path className="bench-seat" d={`M${right} ${bed.edge - 12}V${inner}`} />
      <path className="bench-seat" d={`M${left} ${bed.edge - 12}V${inner}`} />
      <text x={right + 8} y={inner + 20}>
        to the body
      </text>
      <text x={left - 8} y={inner + 20} textAnchor="end">
        to the lens
      </text>
    </>
  );
}

/** A body from its seat to its back: the mark on its top plate stands for the sensor. */
function Box({ piece, quantity, bed }: Props) {
  const { outline } = piece;
  const register = (outline.register_mm ?? 40) * bed.scale;
  const into = quantity.jaws === "depth";
  const seat = into ? bed.datum : bed.datum - register;
  const sensor = seat + register;
  const back = sensor + 9 * bed.scale;
  const inner = innerOf(piece, bed);
  const top = bed.edge;
  const front = seat + Math.min(5 * bed.scale, register * 0.3);
  const shell =
    `M${seat} ${top}H${front}V${top + 10}H${back}V${bed.axis}H${back - 8}V${top + 20}` +
    `H${front + 8}V${inner}H${seat}Z`;
  return (
    <>
      <path className="bench-metal" d={shell} />
      <path className="bench-cut" d={shell} fill="url(#bench-hatch)" />
      <path className="bench-never" d={rect(sensor - 3, inner + 14, sensor + 5, bed.axis)} />
      <text className="bench-never-word" x={sensor + 12} y={bed.axis - 14}>
        never the sensor
      </text>
      <BrokenOff from={seat - 40} to={back + 10} y={bed.axis} />
      <path className="bench-seat" d={`M${seat} ${top - 12}V${inner}`} />
      <path className="bench-plane" d={`M${sensor} ${top + 14}V${bed.axis}`} />
    </>
  );
}

/** The rear of a lens: its seat, and what reaches in behind it. */
function Barrel({ piece, bed }: { piece: BenchPiece; bed: Bed }) {
  const { outline } = piece;
  const rim = innerOf(piece, bed);
  const reach = outline.protrusion_mm * bed.scale;
  const left = Math.max(8, bed.datum - Math.min(outline.length_mm * bed.scale, bed.datum - 20));
  const barrel = rect(left, bed.edge, bed.datum, bed.axis);
  const rear = rect(bed.datum, rim, bed.datum + reach, bed.axis);
  const end = bed.datum + reach;
  const glass =
    `M${end - 6} ${rim + 12}Q${end + 6} ${(rim + bed.axis) / 2} ${end} ${bed.axis}` + `H${end - 14}V${rim + 12}Z`;
  return (
    <>
      <path className="bench-metal" d={barrel + rear} />
      <path className="bench-cut" d={barrel + rear} fill="url(#bench-hatch)" />
      <path className="bench-glass" d={glass} />
      <text className="bench-never-word" x={bed.datum + reach + 16} y={bed.axis - 14}>
        never the rear glass
      </text>
      <BrokenOff from={left} to={bed.datum + reach + 60} y={bed.axis} />
      <path className="bench-seat" d={`M${bed.datum} ${bed.edge - 12}V${bed.axis - 2}`} />
    </>
  );
}

function EndFace({ piece, quantity, bed }: Props) {
  const { outline } = piece;
  const size = quantity.nominal_mm ?? 60;
  const [centre, r] = [bed.datum + (size / 2) * bed.scale, (mm: number) => (mm / 2) * bed.scale];
  const inside = quantity.jaws === "inside";
  const outer = inside ? Math.max(outline.outer_mm, size + 8) : size;
  const inner = inside ? size : Math.min(outline.inner_mm, size - 6);
  const ring = (radius: number) =>
    `M${centre - radius} ${bed.axis}a${radius} ${radius} 0 1 0 ${2 * radius} 0` +
    `a${radius} ${radius} 0 1 0 ${-2 * radius} 0Z`;
  return (
    <>
      <path className="bench-metal" fillRule="evenodd" d={ring(r(outer)) + ring(r(inner))} />
      <path className="bench-cut" fillRule="evenodd" d={ring(r(outer)) + ring(r(inner))} fill="url(#bench-hatch)" />
      <path className="axis" d={`M${centre} ${bed.axis - r(outer) - 14}V${bed.axis + r(outer) + 14}`} />
      <path className="axis" d={`M${centre - r(outer) - 14} ${bed.axis}H${centre + r(outer) + 14}`} />
    </>
  );
}

/** The mark of the film plane on the top plate of a body: a ring that a line runs through. */
export function FilmMark({ piece, quantity, bed }: Props) {
  if (piece.kind !== "bodies" || quantity.jaws !== "along") return null;
  return (
    <g className="bench-mark" transform={`translate(${bed.datum} ${bed.edge + 2})`}>
      <circle r="6" />
      <path d="M0 -12V12" />
    </g>
  );
}
