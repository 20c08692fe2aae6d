import type { FrameReport } from "../../../api/client";
import { agreeing, aperture, distance } from "../../../parts/format";
import { Plain } from "../../../parts/Plain";

interface Props {
  report: FrameReport;
  units: "metric" | "imperial";
  onStop: (n: string) => void;
}

/** From here to there, in one unit where there are two of the same. */
function spanOf(near = "", far = ""): string {
  const unit = near.slice(near.lastIndexOf(" "));
  return `${far.endsWith(unit) ? near.slice(0, -unit.length) : near} – ${far}`;
}

const MOST_DISTANCES = 6;

/** So many that they can be read: where it is focused, and others at good steps. */
function thinned(all: readonly number[], focused: number | null): number[] {
  for (let step = 1; step < 4; step += 0.1) {
    const kept = all.filter((one) => one === focused);
    for (const one of all) if (kept.every((other) => Math.max(one / other, other / one) >= step)) kept.push(one);
    if (new Set(kept).size <= MOST_DISTANCES) return [...new Set(kept)].sort((one, other) => one - other);
  }
  return [...all];
}

/** From where to where it is sharp, at every stop and at every distance that the ring reaches. */
export function DepthTable({ report, units, onStop }: Props) {
  const all = [...new Set(report.depth.map(({ distance_m: one }) => one))];
  const distances = thinned(
    all.sort((one, other) => one - other),
    report.sharp_m,
  );
  const stops = [...new Set(report.depth.map(({ f_number: one }) => one))];
  if (distances.length === 0) return null;
  const row = (stop: number, away: number) =>
    report.depth.find((one) => one.f_number === stop && one.distance_m === away);
  return (
    <section className="becomes-words">
      <h2>Sharp from and to, by stop and by where it is focused</h2>
      <div className="wide-table">
        <table className="data-table depth-grid stacks" data-table="depths">
          <thead>
            <tr>
              <th scope="col">on the ring</th>
              {distances.map((one) => (
                <th key={one} scope="col">
                  {distance(one * 1000, units)}
                </th>
              ))}
              <th scope="col">hyperfocal</th>
            </tr>
          </thead>
          <tbody>
            {stops.map((stop) => {
              const [first] = distances;
              const hyperfocal = first === undefined ? undefined : row(stop, first)?.hyperfocal_m;
              return (
                <tr key={stop} aria-current={stop === report.f_number ? "true" : undefined}>
                  <th scope="row">
                    <Plain className="unfold" onClick={() => onStop(String(stop))}>
                      {aperture(stop)}
                    </Plain>
                  </th>
                  {distances.map((away) => {
                    const found = row(stop, away);
                    if (!found) return <td key={away} />;
                    const [near, , far] = agreeing(
                      [found.near_m * 1000, away * 1000, found.far_m === null ? null : found.far_m * 1000],
                      units,
                    );
                    return (
                      <td key={away} data-head={distance(away * 1000, units)}>
                        {spanOf(near, far)}
                      </td>
                    );
                  })}
                  <td data-head="hyperfocal">{hyperfocal === undefined ? "" : distance(hyperfocal * 1000, units)}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
}
