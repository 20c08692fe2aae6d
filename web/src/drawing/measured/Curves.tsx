import "./measured.css";

import type { MeasuredAnswer, PlacedEdge } from "../../api/measuredQueries";
import { aperture, signedMm } from "../../parts/format";
import { evenScale } from "../axes";
import { Fitted } from "../bench/Fitted";

const HEIGHT = 190;

/** The contrast that is left at each frequency, of the sharpest and the softest edge. */
export function ContrastCurves({ edges }: { edges: readonly PlacedEdge[] }) {
  const sorted = [...edges].sort((one, other) => other.line.mtf50_cycles_per_pixel - one.line.mtf50_cycles_per_pixel);
  const shown = [sorted[0], sorted.at(-1)].filter((one, index, all) => one && all.indexOf(one) === index);
  return (
    <Fitted className="measured-curve" label="Contrast against fineness" height={() => HEIGHT}>
      {(width) => {
        const x = evenScale([0, 0.5], [34, width - 14]);
        const y = evenScale([0, 1.05], [HEIGHT - 34, 8]);
        return (
          <>
            <path className="error-axis" d={`M34 ${y(0)}H${width - 14}M34 8V${y(0)}`} />
            <path className="measured-demand" d={`M34 ${y(0.5)}H${width - 14}`} strokeDasharray="2 3" />
            <text x={30} y={y(0.5) + 4} textAnchor="end">
              ½
            </text>
            <text x={30} y={y(1) + 4} textAnchor="end">
              1
            </text>
            {[0.1, 0.2, 0.3, 0.4, 0.5].map((tick) => (
              <text key={tick} x={x(tick)} y={HEIGHT - 18} textAnchor="middle">
                {tick}
              </text>
            ))}
            <text x={width - 14} y={HEIGHT - 3} textAnchor="end">
              cycles a pixel
            </text>
            {shown.map((edge, index) =>
              edge ? (
                <path
                  key={index}
                  className={index === 0 ? "measured-line" : "measured-line corner"}
                  d={edge.frequencies
                    .filter((f) => f <= 0.5)
                    .map(
                      (f, place) => `${place ? "L" : "M"}${x(f).toFixed(1)} ${y(edge.contrast[place] ?? 0).toFixed(1)}`,
                    )
                    .join("")}
                />
              ) : null,
            )}
          </>
        );
      }}
    </Fitted>
  );
}

/** Sharpness along a focus ladder, and where it is greatest. */
export function LadderCurve({ ladder }: { ladder: NonNullable<MeasuredAnswer["ladder"]> }) {
  const { rungs, peak } = ladder;
  const far = Math.max(1, ...rungs.map((rung) => Math.abs(rung.offset_mm)));
  const most = 1.1 * Math.max(0.01, ...rungs.map((rung) => rung.mtf50));
  return (
    <Fitted className="measured-curve" label="Sharpness along the ladder" height={() => HEIGHT}>
      {(width) => {
        const x = evenScale([-far * 1.05, far * 1.05], [20, width - 20]);
        const y = evenScale([0, most], [HEIGHT - 30, 10]);
        return (
          <>
            <path className="error-axis" d={`M20 ${y(0)}H${width - 20}`} />
            {x.ticks(7).map((tick) => (
              <text key={tick} x={x(tick)} y={HEIGHT - 12} textAnchor="middle">
                {signedMm(tick, 0)}
              </text>
            ))}
            {peak && (
              <rect
                className="error-window"
                x={x(peak.offset_mm - peak.doubt_mm)}
                y={10}
                width={Math.max(1.5, x(peak.offset_mm + peak.doubt_mm) - x(peak.offset_mm - peak.doubt_mm))}
                height={y(0) - 10}
              />
            )}
            {rungs.map((rung, index) => (
              <circle key={index} className="measured-dot" cx={x(rung.offset_mm)} cy={y(rung.mtf50)} r={4} />
            ))}
          </>
        );
      }}
    </Fitted>
  );
}

const ZONE_AT: Record<string, [number, number]> = {
  centre: [0.5, 0.5],
  left: [0.22, 0.5],
  right: [0.78, 0.5],
  top_left: [0.12, 0.14],
  top_right: [0.88, 0.14],
  bottom_left: [0.12, 0.86],
  bottom_right: [0.88, 0.86],
};

/** Where the ring makes each part of the frame sharpest: the frame from the front, each zone with its place. */
export function SeriesFrame({ series }: { series: NonNullable<MeasuredAnswer["series"]> }) {
  const widest = Math.min(...series.best.map((one) => one.f_number));
  const centre = series.best.find((one) => one.zone === "centre" && one.f_number === widest);
  return (
    <svg className="measured-curve" viewBox="0 0 300 200" role="img" aria-label="Best places by zone" width="300">
      <rect className="measured-demand" x={1} y={1} width={298} height={198} fill="none" />
      {series.best
        .filter((one) => one.f_number === widest)
        .map((one) => {
          const [right, down] = ZONE_AT[one.zone] ?? [0.5, 0.5];
          const off = one.ring_mm - (centre?.ring_mm ?? 0);
          return (
            <g key={one.zone} data-zone={one.zone}>
              <circle className="measured-dot" cx={300 * right} cy={200 * down} r={3} />
              <text x={300 * right} y={200 * down - 7} textAnchor="middle">
                {one === centre ? "sharp at 0" : `${signedMm(off, 3)} mm`}
              </text>
            </g>
          );
        })}
    </svg>
  );
}

const STEP = 26;

/** Where the middle is sharpest, stop by stop: it wanders where the focus shifts. */
export function SeriesStops({ series }: { series: NonNullable<MeasuredAnswer["series"]> }) {
  const stops = series.best.filter((one) => one.zone === "centre").sort((one, other) => one.f_number - other.f_number);
  const [first] = stops;
  if (!first || stops.length < 2) return null;
  const off = (mm: number) => mm - first.ring_mm;
  const far = 1.2 * Math.max(0.01, ...stops.map((one) => Math.abs(off(one.ring_mm)) + one.doubt_mm));
  return (
    <Fitted
      className="measured-curve"
      label="Where the middle is sharpest, stop by stop"
      height={() => STEP * stops.length + 34}
    >
      {(width) => {
        const x = evenScale([-far, far], [54, width - 16]);
        return (
          <>
            <path className="measured-demand" d={`M${x(0)} 6V${STEP * stops.length + 8}`} strokeDasharray="2 3" />
            {stops.map((one, index) => {
              const y = STEP * index + 20;
              return (
                <g key={one.f_number} data-best-at={one.f_number}>
                  <text x={4} y={y + 4}>
                    {aperture(one.f_number)}
                  </text>
                  <path
                    className="measured-doubt"
                    d={`M${x(off(one.ring_mm) - one.doubt_mm)} ${y}H${x(off(one.ring_mm) + one.doubt_mm)}`}
                  />
                  <circle className="measured-dot" cx={x(off(one.ring_mm))} cy={y} r={4} />
                </g>
              );
            })}
            {x.ticks(5).map((tick) => (
              <text key={tick} x={x(tick)} y={STEP * stops.length + 26} textAnchor="middle">
                {signedMm(tick, 2)}
              </text>
            ))}
          </>
        );
      }}
    </Fitted>
  );
}
