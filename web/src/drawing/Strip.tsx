import type { MatchReport, Route } from "../api/client";
import { fNumber, mm, percent } from "../parts/format";
import { find, type Frame, xOf } from "./scale";

/** Pixels per millimetre in the strip: hundredths become visible. */
export const stripScale = (width: number) => (width > 700 ? 420 : 200);

interface Props {
  report: MatchReport;
  route: Route;
  frame: Frame;
  top: number;
  height: number;
  /** The stop whose share is shaded. */
  stop: number | null;
  onStop: (stop: number | null) => void;
}

/**
 * Hairlines from the seats into a strip magnified some hundred times, centred on where the lens should stand.
 * Left is farther from the sensor. Windows are N·c (K·N·c with glass) wide to either side.
 */
export function Strip({ report, route, frame, top, height, stop, onStop }: Props) {
  const scale = stripScale(frame.width);
  const centre = frame.width / 2;
  const x = (error: number) => centre - error * scale;
  const base = top + height - 22;
  const half = frame.width / 2 / scale;
  const error = route.register_error_mm;
  const { standard_uncertainty: u, worst_case: worst } = route.register_tolerance_mm;
  const { stops, long_end_mm: long } = route.infinity;
  const past = error - route.infinity.short_end_mm;
  const travel = long === null ? 0 : long - error;
  const needed = find(route, "needed_seat")?.at_mm ?? 0;
  const onStrip = Math.abs(error) < half - 0.08;
  const seatX = xOf(frame, needed);
  const shaded = stops.find((entry) => entry.f_number === stop) ?? null;
  return (
    <g className="strip" data-scale={scale} data-centre={centre}>
      <path className="loupe" d={`M${seatX.toFixed(2)} ${top - 26}L0 ${top}H${frame.width}Z`} />
      <path className="hairline" d={`M${seatX.toFixed(2)} ${frame.axisY}V${top - 26}`} />
      <rect className="strip-bed" x="0" y={top} width={frame.width} height={height} />
      {travel > 0 && (
        <rect
          className="taken-up"
          x={centre}
          y={base + 3}
          width={Math.min(frame.width - centre, travel * scale)}
          height="4"
        />
      )}
      {past > 0 && <rect className="taken-up" x={x(past)} y={base + 3} width={past * scale} height="4" />}
      {[...stops].reverse().map((entry) => (
        <rect
          key={entry.f_number}
          className={`window ${entry.f_number === stop ? "chosen" : ""}`}
          data-stop={entry.f_number}
          x={x(entry.window_mm)}
          y={top + 1}
          width={2 * entry.window_mm * scale}
          height={base - top - 1}
          onPointerEnter={() => {
            onStop(entry.f_number);
          }}
          onPointerLeave={() => {
            onStop(null);
          }}
        />
      ))}
      <Ticks x={x} half={half} base={base} wide={frame.width > 700} />
      {onStrip && u > 0 && (
        <>
          {shaded && (
            <path
              className="share"
              d={bell(x, error, u, base, height - 34, -shaded.window_mm - travel, shaded.window_mm + past, half)}
            />
          )}
          <path className="bell" d={bell(x, error, u, base, height - 34, -half, half, half)} />
          <path className="worst" d={`M${x(error + worst).toFixed(2)} ${base - 5}v5M${x(error - worst).toFixed(2)} ${base - 5}v5M${x(error + worst).toFixed(2)} ${base}H${x(error - worst).toFixed(2)}`} />
        </>
      )}
      <path className="should" d={`M${centre} ${top}V${base + 8}`} />
      {onStrip ? (
        <path className="stands" d={`M${x(error).toFixed(2)} ${top}V${base + 8}`} data-error={error} />
      ) : (
        <g className="off-strip">
          <path d={error > 0 ? `M40 ${top + height / 2}H12M20 ${top + height / 2 - 6}L10 ${top + height / 2}L20 ${top + height / 2 + 6}` : `M${frame.width - 40} ${top + height / 2}H${frame.width - 12}M${frame.width - 20} ${top + height / 2 - 6}L${frame.width - 10} ${top + height / 2}L${frame.width - 20} ${top + height / 2 + 6}`} />
          <text x={error > 0 ? 48 : frame.width - 48} y={top + height / 2 + 5} textAnchor={error > 0 ? "start" : "end"}>
            {`it stands ${mm(Math.abs(error))} mm ${error > 0 ? "too far" : "too near"}`}
          </text>
        </g>
      )}
      <g className="stops">
        {labelled(stops, x, frame.width).map(({ entry, edge, left }) => (
          <g key={entry.f_number}>
            <path d={`M${edge.toFixed(2)} ${top + 6}v12`} />
            <text
              x={edge + (left ? -4 : 4)}
              y={top + 16}
              textAnchor={left ? "end" : "start"}
              className={entry.f_number === stop ? "chosen" : ""}
            >
              {fNumber(entry.f_number)}
            </text>
          </g>
        ))}
      </g>
      {shaded && (
        <text className="share-text" x={centre + 12} y={top + 36}>
          {`sharp at ${fNumber(shaded.f_number)}: ${percent(shaded.probability)}`}
        </text>
      )}
      <text className="corner-text" x="8" y={top + 15}>{`× ${Math.round(scale / frame.scale)}, too far ←`}</text>
      <text className="corner-text" x={frame.width - 8} y={top + 15} textAnchor="end">
        → too near
      </text>
      <title>{`${report.pieces[report.lens]?.name ?? "Lens"}: register error ${mm(error, 3)} mm`}</title>
    </g>
  );
}

type Entry = Route["infinity"]["stops"][number];

/** The stops that have room for their name: the widest at its left edge, the others at their right edges. */
function labelled(stops: Entry[], x: (error: number) => number, width: number) {
  const [widest, ...others] = stops;
  if (!widest) return [];
  const kept = [{ entry: widest, edge: x(widest.window_mm), left: true }];
  let taken = width - 84;
  for (const entry of [...others].reverse()) {
    const edge = x(-entry.window_mm);
    if (edge + 32 > taken) continue;
    kept.push({ entry, edge, left: false });
    taken = edge;
  }
  return kept;
}

function Ticks({ x, half, base, wide }: { x: (error: number) => number; half: number; base: number; wide: boolean }) {
  const step = wide ? 0.01 : 0.05;
  const count = Math.floor(half / step);
  const all = Array.from({ length: 2 * count + 1 }, (_, index) => index - count);
  const length = (index: number) => (index % 10 === 0 ? 9 : index % 5 === 0 ? 6 : 3);
  const labelEvery = wide ? 20 : 8;
  return (
    <g className="ticks">
      <path d={all.map((index) => `M${x(index * step).toFixed(2)} ${base}v${length(index)}`).join("")} />
      {all
        .filter((index) => index % labelEvery === 0 && Math.abs(index * step) < half - 0.05)
        .map((index) => (
          <text key={index} x={x(index * step)} y={base + 19} textAnchor="middle">
            {index === 0 ? "0" : mm(index * step, 1)}
          </text>
        ))}
    </g>
  );
}

/** A normal curve of the register error between two positions, as an area over the base line. */
function bell(
  x: (error: number) => number,
  mean: number,
  u: number,
  base: number,
  height: number,
  from: number,
  to: number,
  half: number,
): string {
  const low = Math.max(from, mean - 3.6 * u, -half);
  const high = Math.min(to, mean + 3.6 * u, half);
  if (high <= low) return "";
  const count = 48;
  const points = Array.from({ length: count + 1 }, (_, index) => {
    const value = low + ((high - low) * index) / count;
    return `${x(value).toFixed(2)} ${(base - height * Math.exp(-((value - mean) ** 2) / (2 * u * u))).toFixed(2)}`;
  });
  return `M${x(low).toFixed(2)} ${base}L${points.join("L")}L${x(high).toFixed(2)} ${base}Z`;
}
