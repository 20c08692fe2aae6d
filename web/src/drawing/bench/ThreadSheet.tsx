import "./bench.css";

import { useWidth } from "../../parts/useWidth";

interface Props {
  /** The measured pitch, that of the thread it is held against, and after how many turns they bind. */
  pitchMm: number;
  otherMm: number;
  turns: number | null;
  label: string;
  otherLabel: string;
}

const LONG_MM = 12;

/** Two threads with their flanks in each other: where pitches differ, the crests climb until they bind. */
export function ThreadSheet({ pitchMm, otherMm, turns, label, otherLabel }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const height = 176;
  const scale = Math.max(1, (width - 40) / LONG_MM);
  const bind = turns === null ? null : turns * pitchMm;
  const flank = (pitch: number, up: boolean) => {
    const deep = Math.min(30, 0.6 * pitch * scale);
    const base = height / 2;
    const count = Math.floor(LONG_MM / pitch);
    const points = Array.from({ length: count }, (_, index) => {
      const [from, middle] = [20 + index * pitch * scale, 20 + (index + 0.5) * pitch * scale];
      return up
        ? `L${from} ${base + deep / 2}L${middle} ${base - deep / 2}`
        : `L${from} ${base + deep / 2 - 5}L${middle} ${base - deep / 2 - 5}`;
    }).join("");
    const end = 20 + count * pitch * scale;
    return up
      ? `M20 ${height - 34}${points}L${end} ${base + deep / 2}V${height - 34}Z`
      : `M20 34${points}L${end} ${base + deep / 2 - 5}V34Z`;
  };
  return (
    <div className="thread-sheet" ref={ref}>
      {width > 0 && (
        <svg
          className="sheet-svg"
          width={width}
          height={height}
          viewBox={`0 0 ${width} ${height}`}
          role="img"
          aria-label={
            bind === null ? `${label} and ${otherLabel} go together` : `${label} binds in ${otherLabel}`
          }
        >
          <path className="thread-female" d={flank(otherMm, false)} data-pitch={otherMm} />
          <path className="thread-male" d={flank(pitchMm, true)} data-pitch={pitchMm} />
          {bind !== null && bind < LONG_MM && (
            <>
              <rect className="thread-bind" x={20 + bind * scale} y={34} width={3} height={height - 68} />
              <text className="clash-caption" x={28 + bind * scale} y={48}>
                {`binds after ${turns?.toFixed(1) ?? ""} turns: never force it`}
              </text>
            </>
          )}
          <text x={20} y={24}>
            {otherLabel}
          </text>
          <text x={20} y={height - 14}>
            {label}
          </text>
          <path className="bench-bar" d={`M${width - 30} ${height - 22}v6h${-scale}v-6`} />
          <text x={width - 30} y={height - 26} textAnchor="end">
            1 mm
          </text>
        </svg>
      )}
    </div>
  );
}
