import "./bench.css";

import { Fitted } from "./Fitted";

interface Props {
  /** The measured pitch, that of the thread it is held against, and after how many turns they bind. */
  pitchMm: number;
  otherMm: number;
  turns: number | null;
  /** Whether the diameters are of one size, so that it goes on at all. */
  starts: boolean;
  label: string;
  otherLabel: string;
}

const LONG_MM = 12;

/** Two threads with their flanks in each other: where pitches differ, the crests climb until they bind. */
export function ThreadSheet(props: Props) {
  const { turns, starts, label, otherLabel } = props;
  const goes = turns === null ? `${label} and ${otherLabel} go together` : `${label} binds in ${otherLabel}`;
  const told = starts ? goes : `${label} does not start in ${otherLabel}, or wobbles`;
  return (
    <Fitted className="thread-sheet" label={told} height={() => 176}>
      {(width, height) => <Flanks {...props} width={width} height={height} />}
    </Fitted>
  );
}

type FlanksProps = Props & { width: number; height: number };

function Flanks({ pitchMm, otherMm, turns, starts, label, otherLabel, width, height }: FlanksProps) {
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
    <>
      <path className="thread-female" d={flank(otherMm, false)} data-pitch={otherMm} />
      <path className="thread-male" d={flank(pitchMm, true)} data-pitch={pitchMm} />
      {bind !== null && bind < LONG_MM && starts && (
        <>
          <rect className="thread-bind" x={20 + bind * scale} y={34} width={3} height={height - 68} />
          <text
            className="clash-caption"
            x={28 + bind * scale}
            dx={28 + bind * scale > width / 2 ? -18 : 0}
            textAnchor={28 + bind * scale > width / 2 ? "end" : "start"}
            y={48}
          >
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
    </>
  );
}

/** Where the jaws go: across the crests for the diameter, along ten of them for the pitch. */
export function ThreadHow() {
  const crests = Array.from({ length: 10 }, (_, index) => 120 + index * 24);
  const flank = (side: 1 | -1) =>
    crests.map((x) => `L${x - 12} ${90 - side * 44}L${x} ${90 - side * 58}L${x + 12} ${90 - side * 44}`).join("");
  return (
    <svg
      className="sheet-svg thread-how"
      width="620"
      height="180"
      viewBox="0 0 620 180"
      role="img"
      aria-label="Where the jaws go"
    >
      <path className="thread-male" d={`M96 90V46${flank(1)}L372 46V134L348 134${flankBack(crests)}L96 134Z`} />
      <path className="caliper-jaw" d="M230 10h28v22h-28zM230 148h28v22h-28z" />
      <path className="caliper-jaw" d="M118 4l4 22h-10v-22zM338 4l-4 22h10v-22z" />
      <path className="error-axis" d="M120 20H336" />
      <text x="228" y="18" textAnchor="middle">
        along, over whole turns
      </text>
      <text x="396" y="86">
        across, over the crests;
      </text>
      <text x="396" y="106">
        inside, across the bore
      </text>
      <path className="error-axis" d="M262 32H384V148H262M384 90h8" fill="none" />
    </svg>
  );
}

const flankBack = (crests: readonly number[]) =>
  [...crests]
    .reverse()
    .map((x) => `L${x + 12} 134L${x} 148L${x - 12} 134`)
    .join("");
