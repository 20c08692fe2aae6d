import "./bench.css";

import type { BenchPiece, BenchQuantity } from "../../api/benchQueries";
import { useWidth } from "../../parts/useWidth";
import { Caliper } from "./Caliper";
import { bedFor } from "./caliperScale";
import { FilmMark, PieceCut } from "./PieceCut";
import { Places } from "./Places";

interface Props {
  piece: BenchPiece;
  quantity: BenchQuantity;
  openingMm: number;
  display: string;
  touching: boolean;
  onMove: ((mm: number) => void) | null;
  places: readonly { deg: number; reading: number | null }[];
  current: number | null;
}

/** The piece to scale with the caliper on it, where the jaws go for this one length. */
export function CaliperSheet({ piece, quantity, places, current, ...caliper }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const height = width < 640 ? 250 : 300;
  const bed = width > 0 ? bedFor(piece, quantity, width, height) : null;
  const aside = width >= 640 && quantity.seat_mm !== null && places.length > 0;
  return (
    <div className="caliper-sheet" ref={ref}>
      {bed && (
        <svg
          className="sheet-svg"
          width={width}
          height={height}
          viewBox={`0 0 ${width} ${height}`}
          role="group"
          aria-label={`${piece.name}: ${quantity.label}, from ${quantity.datum}`}
          data-scale={bed.scale.toFixed(3)}
        >
          <PieceCut piece={piece} quantity={quantity} bed={bed} />
          <Caliper bed={bed} quantity={quantity} {...caliper} />
          <FilmMark piece={piece} quantity={quantity} bed={bed} />
          <path className="bench-datum" d={`M${bed.datum} ${height - 14}l-7 12h14z`} />
          <text className="bench-datum-word" x={bed.datum + 12} y={height - 4}>
            from here
          </text>
          <path className="bench-bar" d={`M14 ${height - 12}v6h${10 * bed.scale}v-6`} />
          <text x={18} y={height - 16}>
            10 mm
          </text>
          {aside && <Places cx={width - 116} cy={height / 2 - 6} radius={92} places={places} current={current} />}
        </svg>
      )}
    </div>
  );
}
