import { useQuery } from "@tanstack/react-query";

import { type RigQuery, trialsQuery } from "../../../api/benchQueries";
import { mm, signedMm } from "../../../parts/format";
import { Refused } from "../../../parts/Refused";
import { useStrike } from "../../../parts/useStrike";
import { Strike } from "../Strike";

/** What was tried of this rig before. */
export function Trials({ query }: { query: RigQuery }) {
  const trials = useQuery(trialsQuery(query));
  const strike = useStrike("bench_trials");
  if (!trials.data || trials.data.length === 0) return null;
  return (
    <section data-section="trials">
      <h2>Tried before</h2>
      <ul className="bench-series">
        {trials.data.map(({ trial, told }) => (
          <li key={trial.id} data-trial={trial.id} className={trial.struck ? "struck" : ""}>
            <p>
              <strong>{trial.day}</strong>
              {`: ${told.join("; ")}.`}
              {trial.error_mm === null || trial.error_mm === undefined
                ? ""
                : ` ${signedMm(trial.error_mm)} ± ${mm(trial.standard_uncertainty_mm ?? 0)} mm.`}
              {trial.struck ? ` Struck out: ${trial.struck_because}` : ""}
            </p>
            {!trial.struck && (
              <Strike
                what={`the trial of ${trial.day}`}
                onStrike={(reason) => strike.mutate({ id: trial.id, reason })}
              />
            )}
          </li>
        ))}
      </ul>
      {strike.error && <Refused error={strike.error} />}
    </section>
  );
}
