import type { BenchPiece } from "../../../api/benchQueries";
import { Plain } from "../../../parts/Plain";

interface Props {
  piece: BenchPiece;
  current: string;
  onChoose: (quantity: string) => void;
}

/** What of the piece can be measured. */
export function Quantities({ piece, current, onChoose }: Props) {
  return (
    <div className="toggles bench-quantities" role="group" aria-label={`What of ${piece.name}`}>
      {piece.quantities.map((one) => (
        <Plain
          key={one.quantity}
          className="filter-toggle"
          aria-pressed={one.quantity === current}
          onClick={() => onChoose(one.quantity)}
        >
          {one.label}
        </Plain>
      ))}
    </div>
  );
}
