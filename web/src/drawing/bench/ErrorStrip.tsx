import type { SeenReport } from "../../api/benchQueries";
import { aperture, fNumber, mm, plain, signedMm } from "../../parts/format";
import { evenScale, type Scale } from "../axes";
import { Hatch } from "../Hatch";
import { Fitted } from "./Fitted";

interface Props {
  report: SeenReport;
  /** What is stated of the length is left out. */
  nameless: boolean;
  /** A short name for each kind of observation. */
  nameOf: (kind: string) => string;
}

const ROW = 34;
const TOP = 26;
const HILL = 120;
const POINTS = 60;

/** Half the width of the strip in mm: all that was seen, and the widest stop, with room beside. */
function halfOf(report: SeenReport): number {
  const seen = report.observations.flatMap((one) =>
    one.hills_mm.length > 0
      ? one.hills_mm.map((at) => Math.abs(at) + 2.5 * (one.b_mm ?? 0))
      : one.mean_mm === null
        ? [one.a_mm, one.b_mm].flatMap((edge) => (edge === null ? [] : [Math.abs(edge)]))
        : [Math.abs(one.mean_mm) + 2.5 * (one.standard_uncertainty_mm ?? 0)],
  );
  const stops = report.windows.slice(0, 3).map((one) => one.half_mm);
  const together = [report.together, report.headline].flatMap((one) =>
    one === null ? [] : [Math.abs(one.mean_mm) + 3 * one.standard_uncertainty_mm],
  );
  return 1.15 * Math.max(0.1, ...seen, ...stops, ...together);
}

/** A normal hill from a base line, as high as `height` at its top. */
function hill(along: Scale, mean: number, u: number, base: number, height: number): string {
  const wide = Math.max(u, 1e-4);
  const [left, right] = along.range;
  const points = Array.from({ length: POINTS + 1 }, (_, index) => {
    const z = -3.5 + (7 * index) / POINTS;
    const x = Math.min(right, Math.max(left, along(mean + z * wide)));
    return `${x.toFixed(2)} ${(base - height * Math.exp((-z * z) / 2)).toFixed(2)}`;
  });
  return `M${points.join("L")}Z`;
}

/**
 * What was seen, a row each, over the windows within which each stop is sharp at infinity; below it all
 * together, and how it would be with the foils. To the left the lens stands too far from the sensor.
 */
export function ErrorStrip({ report, nameless, nameOf }: Props) {
  const rows = report.observations.filter((one) => one.form !== null).length + 1;
  return (
    <Fitted className="error-strip" label={report.says} height={() => TOP + rows * ROW + HILL + 52}>
      {(width, height) => <Strip report={report} nameless={nameless} nameOf={nameOf} width={width} height={height} />}
    </Fitted>
  );
}

function Strip({ report, nameless, nameOf, width, height }: Props & { width: number; height: number }) {
  const half = halfOf(report);
  const label = width < 640 ? 0 : 210;
  const along = evenScale([half, -half], [label + 14, width - 14]);
  const seen = report.observations
    .map((one, place) => ({ ...one, odd: place === report.most_at_odds }))
    .filter((one) => one.form !== null);
  const bottom = TOP + (seen.length + 1) * ROW;
  const base = bottom + HILL;
  const named = label > 0;
  return (
    <>
      <Hatch id="bound-hatch" />
      <Windows report={report} along={along} top={TOP - 8} base={base} />
      <Row
        kind="prior"
        name="as stated"
        odd={report.prior_at_odds}
        out={nameless}
        y={TOP + ROW}
        along={along}
        named={named}
        mean={report.nominal.mean_mm}
        u={report.nominal.standard_uncertainty_mm}
      />
      {seen.map((one, index) => (
        <Row
          key={index}
          kind={one.kind}
          name={nameOf(one.kind)}
          odd={one.odd}
          out={one.left_out}
          y={TOP + (index + 2) * ROW}
          along={along}
          named={named}
          mean={one.mean_mm ?? one.a_mm ?? one.b_mm ?? 0}
          u={one.hills_mm.length > 0 ? one.b_mm : one.mean_mm === null ? null : one.standard_uncertainty_mm}
          hills={one.hills_mm}
          beyond={one.mean_mm !== null ? 0 : one.a_mm === null ? -1 : 1}
        />
      ))}
      <path className="error-zero" d={`M${along(0)} ${TOP - 14}V${base + 8}`} />
      <text x={along(0)} y={12} textAnchor="middle">
        where it should stand
      </text>
      <Together report={report} along={along} base={base} named={named} />
      <path className="error-axis" d={`M${along(half)} ${base}H${along(-half)}`} />
      {along.ticks(width < 640 ? 5 : 9).map((tick) => (
        <g key={tick}>
          <path className="error-axis" d={`M${along(tick)} ${base}v5`} />
          <text className="error-tick" x={along(tick)} y={base + 18} textAnchor="middle">
            {signedMm(tick, half < 0.4 ? 2 : half < 4 ? 1 : 0)}
          </text>
        </g>
      ))}
      <text className="error-tick" x={along(half)} y={height - 8}>
        ← too far from the sensor
      </text>
      <text className="error-tick" x={along(0)} y={height - 8} textAnchor="middle">
        {`${plain(report.focal_length_mm, "mm")}, ${aperture(report.f_number)}`}
      </text>
      <text className="error-tick" x={along(-half)} y={height - 8} textAnchor="end">
        too near →
      </text>
    </>
  );
}

/** The stops whose names have room, the widest window first. */
function toldStops(report: SeenReport, along: Scale, low: number, high: number): Set<number> {
  const found = new Set<number>();
  let last = Number.POSITIVE_INFINITY;
  for (const { f_number: stop, half_mm: half } of [...report.windows].reverse()) {
    const edge = along(-half);
    if (edge >= high - 4 || edge < low + 30 || last - edge <= 34) continue;
    found.add(stop);
    last = edge;
  }
  return found;
}

interface WindowsProps {
  report: SeenReport;
  along: Scale;
  top: number;
  base: number;
}

function Windows({ report, along, top, base }: WindowsProps) {
  const [low, high] = along.range;
  const clip = (x: number) => Math.min(high, Math.max(low, x));
  const told = toldStops(report, along, along(0) + 66, high);
  return (
    <>
      {[...report.windows].reverse().map(({ f_number: stop, half_mm: half }) => {
        const [from, to] = [clip(along(half)), clip(along(-half))];
        const edge = along(-half);
        return (
          <g key={stop} data-stop={stop}>
            <rect className="error-window" x={from} y={top} width={to - from} height={base - top} />
            {told.has(stop) && (
              <text className="error-tick" x={edge - 3} y={top - 6} textAnchor="end">
                {fNumber(stop)}
              </text>
            )}
          </g>
        );
      })}
    </>
  );
}

interface RowProps {
  kind: string;
  name: string;
  odd: boolean;
  /** Left out: it counts no more. */
  out: boolean;
  y: number;
  along: Scale;
  named: boolean;
  mean: number;
  u: number | null;
  /** Bounded on one side alone: it lies beyond, towards longer (1) or shorter (-1). */
  beyond?: number;
  /** Errors that are as likely: a hill each. */
  hills?: readonly number[];
}

function Row({ kind, name, odd, out, y, along, named, mean, u, beyond = 0, hills = [] }: RowProps) {
  const [low, high] = along.range;
  const at = Math.min(high, Math.max(low, along(mean)));
  return (
    <g className={`error-row${odd ? " odd" : ""}${out ? " out" : ""}`} data-observation={kind} data-mean={mean}>
      {u === null ? (
        <>
          <rect
            className="error-bound"
            x={beyond > 0 ? low : at}
            y={y - 16}
            width={Math.max(0, beyond > 0 ? at - low : high - at)}
            height={16}
          />
          <path className="error-bound-edge" d={`M${at} ${y - 18}v20`} />
        </>
      ) : (
        (hills.length > 0 ? hills : [mean]).map((at) => (
          <path key={at} className="error-bell" d={hill(along, at, u, y, 20)} />
        ))
      )}
      <text x={named ? 12 : low} y={named ? y - 3 : y - 20}>
        {named ? name : shortOf(name)}
      </text>
      {named && (
        <text className="error-tick" x={low - 16} y={y - 3} textAnchor="end">
          {out
            ? "left out"
            : odd
              ? "most at odds"
              : u === null
                ? ""
                : `${(hills.length > 0 ? hills : [mean]).map((at) => signedMm(at)).join(" or ")} ± ${mm(u)}`}
        </text>
      )}
    </g>
  );
}

const shortOf = (name: string) => (name.length > 34 ? `${name.slice(0, 33)}…` : name);

interface TogetherProps {
  report: SeenReport;
  along: Scale;
  base: number;
  named: boolean;
}

function Together({ report, along, base, named }: TogetherProps) {
  const { together, headline, after, mend } = report;
  if (together === null || headline === null) return null;
  // Beside the answer that counts the other one: all of it, or what would be without the one at odds.
  const other = headline.mean_mm === together.mean_mm ? together.without : together;
  const [low = 0, high = 0] = headline.interval_mm;
  const foils = mend?.shim?.sum_mm ?? 0;
  const [from, to] = [along(headline.mean_mm), along(after?.error_mm ?? headline.mean_mm)];
  return (
    <g data-together={headline.mean_mm}>
      {named && (
        <text x={12} y={base - 40} fontWeight={600}>
          {other === together ? "what was seen" : "all together"}
        </text>
      )}
      {other && (
        <path
          className="error-bell without"
          d={hill(along, other.mean_mm, other.standard_uncertainty_mm, base, HILL - 46)}
        />
      )}
      <path
        className="error-bell all"
        d={hill(along, headline.mean_mm, headline.standard_uncertainty_mm, base, HILL - 34)}
      />
      <path className="error-bound-edge" d={`M${along(low)} ${base + 3}H${along(high)}`} />
      {after && foils > 0 && (
        <g data-after={after.error_mm}>
          <path
            className="error-bell after"
            d={hill(
              along,
              after.error_mm,
              report.after_uncertainty_mm ?? headline.standard_uncertainty_mm,
              base,
              HILL - 46,
            )}
          />
          <path className="error-mend" d={`M${from} ${base - HILL + 26}H${to}m5 -4l-5 4l5 4`} />
          <text x={(from + to) / 2} y={base - HILL + 20} textAnchor="middle">
            {`+${mm(foils)} mm of foil`}
          </text>
        </g>
      )}
    </g>
  );
}
