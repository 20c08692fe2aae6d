import "./measured.css";

import type { Sharp, UsableMeasured } from "../../api/measuredQueries";
import { aperture } from "../../parts/format";
import { evenScale, logScale } from "../axes";
import { Fitted } from "../bench/Fitted";

interface Props {
  sharp: readonly Sharp[];
  usable: readonly UsableMeasured[];
  /** Another rig, drawn paler. */
  beside?: readonly Sharp[];
  nameOf: (use: UsableMeasured["demand"]["use"]) => string;
  label: string;
}

const HEIGHT = 260;
const PLACES = ["centre", "corner"] as const;

/** Demands that lie together, as one line. */
function together(usable: readonly UsableMeasured[], nameOf: Props["nameOf"]) {
  const lines = new Map<string, string[]>();
  for (const { demand } of usable) {
    const at = demand.centre_lp_per_mm.toFixed(0);
    lines.set(at, [...(lines.get(at) ?? []), nameOf(demand.use)]);
  }
  return [...lines].map(([at, names]) => ({ at: Number(at), says: `${names.join(", ")} ${at}` }));
}

/** Sharpness against the aperture, centre and corners, over what each use demands. */
export function SharpnessChart({ sharp, usable, beside = [], nameOf, label }: Props) {
  const lines = [
    { of: "other", told: beside.filter((one) => one.place !== "between") },
    { of: "own", told: sharp.filter((one) => one.place !== "between") },
  ];
  const told = lines.flatMap((line) => line.told);
  const stops = [...new Set(told.map((one) => one.f_number))].sort((one, other) => one - other);
  const [low = 1, high = 2] = [stops[0], stops.at(-1)];
  const demands = usable.map((one) => one.demand.centre_lp_per_mm);
  const most = 1.12 * Math.max(1, ...told.map((one) => one.lp_per_mm + (one.uncertainty ?? 0)), ...demands);
  return (
    <Fitted className="measured-chart" label={label} height={() => HEIGHT}>
      {(width) => {
        const x = logScale([low / 1.15, high * 1.15], [46, width - 136]);
        const y = evenScale([0, most], [HEIGHT - 30, 12]);
        return (
          <>
            <path className="error-axis" d={`M46 ${y(0)}H${width - 136}M46 12V${y(0)}`} />
            {y.ticks(5).map((tick) => (
              <text key={tick} x={40} y={y(tick) + 4} textAnchor="end">
                {tick}
              </text>
            ))}
            {stops.map((stop) => (
              <text key={stop} x={x(stop)} y={HEIGHT - 10} textAnchor="middle">
                {aperture(stop)}
              </text>
            ))}
            {together(usable, nameOf).map(({ at, says }) => (
              <g key={says} data-demand={says}>
                <path className="measured-demand" d={`M46 ${y(at)}H${width - 134}`} strokeDasharray="2 3" />
                <text x={width - 130} y={y(at) + 4}>
                  {says}
                </text>
              </g>
            ))}
            {lines.flatMap((line) =>
              PLACES.map((place) => {
                const means = stops.flatMap((stop) => {
                  const here = line.told.filter((one) => one.place === place && one.f_number === stop);
                  if (here.length === 0) return [];
                  const mean = here.reduce((sum, one) => sum + one.lp_per_mm, 0) / here.length;
                  const values = here.map((one) => one.lp_per_mm);
                  const doubt = Math.max(...here.map((one) => one.uncertainty ?? one.lp_per_mm / 10));
                  return [{ stop, mean, low: Math.min(...values) - doubt, high: Math.max(...values) + doubt }];
                });
                return (
                  <g key={`${line.of} ${place}`} className={`measured-of-${line.of}`} data-line={`${line.of} ${place}`}>
                    <path
                      className={`measured-line ${place}`}
                      d={means.map(({ stop, mean }, index) => `${index ? "L" : "M"}${x(stop)} ${y(mean)}`).join("")}
                    />
                    {means.map(({ stop, mean, low: least, high: greatest }) => (
                      <g key={stop} data-sharp={mean.toFixed(1)}>
                        <path className="measured-doubt" d={`M${x(stop)} ${y(Math.max(0, least))}V${y(greatest)}`} />
                        <circle className={`measured-dot ${place}`} cx={x(stop)} cy={y(mean)} r={4.5} />
                      </g>
                    ))}
                  </g>
                );
              }),
            )}
          </>
        );
      }}
    </Fitted>
  );
}
