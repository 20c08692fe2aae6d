import "./TrialLadder.css";

import type { TrialLine, Verdict } from "../../api/trialQueries";

interface Props {
  /** Those that count and those that do not, of one use. */
  trials: readonly TrialLine[];
  /** From where it is usable; `null`: from nowhere. */
  from: number | null;
  /** The fastest and the slowest stop that there is room for. */
  range: { low: number; high: number };
  label: string;
}

const WIDTH = 640;
const ROW = 26;
const LEFT = 70;

/** Filled, half, hollow, crossed: a shape for each verdict, so that no colour is needed. */
function Mark({ verdict, x, y }: { verdict: Verdict; x: number; y: number }) {
  const r = 7;
  return (
    <g className={`trial-mark trial-${verdict}`}>
      <title>{verdict}</title>
      <circle cx={x} cy={y} r={r} />
      {verdict === "soft" && <path d={`M${x} ${y - r}a${r} ${r} 0 0 1 0 ${2 * r}z`} className="trial-fill" />}
      {verdict === "sharp" && <circle cx={x} cy={y} r={r} className="trial-fill" />}
      {verdict === "dark" && <path d={`M${x - 5} ${y - 5}l10 10M${x + 5} ${y - 5}l-10 10`} />}
    </g>
  );
}

/** Trials along the stops, centre above and worst corner below; where the rig is usable is shaded. */
export function TrialLadder({ trials, from, range, label }: Props) {
  const stops = [...new Set(trials.map(({ trial }) => trial.aperture))].sort((one, other) => one - other);
  const low = Math.log2(range.low) - 0.5;
  const high = Math.log2(range.high) + 0.5;
  const at = (stop: number) => LEFT + ((Math.log2(stop) - low) / (high - low)) * (WIDTH - LEFT - 10);
  // Trials at one stop stand side by side: none hides another.
  const placed = trials.map((line, index) => {
    const same = trials.slice(0, index).filter(({ trial }) => trial.aperture === line.trial.aperture).length;
    return { line, x: at(line.trial.aperture) + same * 17 };
  });
  return (
    <svg className="trial-ladder" viewBox={`0 0 ${WIDTH} ${2 * ROW + 34}`} role="img" aria-label={label}>
      {from !== null && (
        <rect className="trial-usable" x={at(from) - 13} y={2} width={WIDTH - at(from) + 13} height={2 * ROW + 6} />
      )}
      <text x={0} y={ROW - 4}>
        centre
      </text>
      <text x={0} y={2 * ROW - 2}>
        corner
      </text>
      {placed.map(({ line: { trial, not_counted: not }, x }) => (
        <g key={trial.id} className={not ? "trial-out" : undefined} data-trial-at={trial.aperture}>
          <Mark verdict={trial.centre} x={x} y={ROW - 8} />
          {trial.corner && <Mark verdict={trial.corner} x={x} y={2 * ROW - 6} />}
        </g>
      ))}
      {stops.map((stop) => (
        <text key={stop} x={at(stop)} y={2 * ROW + 26} textAnchor="middle">
          {`f/${stop}`}
        </text>
      ))}
    </svg>
  );
}
