import { useQuery } from "@tanstack/react-query";

import { trialsQuery as benchTrialsQuery } from "../../../api/benchQueries";
import { cornersQuery } from "../../../api/queries";
import { mm, signedMm } from "../../../parts/format";

/** What the bench and the corner checks found of the rig: shown beside, not copied. */
export function Beside({ rig }: { rig: { lens: string; body: string; via: string } }) {
  const bench = useQuery(benchTrialsQuery(rig)).data ?? [];
  const corners = useQuery(cornersQuery(rig)).data;
  const standing = bench.filter(({ trial }) => !trial.struck);
  if (standing.length === 0 && !corners?.latest) return null;
  return (
    <section className="trials-beside">
      <h2>Found elsewhere</h2>
      <ul className="trials-told">
        {standing.map(({ trial, told }) => (
          <li key={trial.id}>
            <span>
              {`On the bench: ${told.join("; ")}.`}
              {trial.error_mm == null
                ? ""
                : ` ${signedMm(trial.error_mm)} ± ${mm(trial.standard_uncertainty_mm ?? 0)} mm.`}
            </span>
            <span className="trials-whose">{trial.day}</span>
          </li>
        ))}
        {corners?.latest && (
          <li>
            <span>{`Corners at the ends of the stabiliser’s travel: ${corners.latest.says}`}</span>
          </li>
        )}
      </ul>
    </section>
  );
}
