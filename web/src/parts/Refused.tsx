import { ProblemError } from "../api/client";

/** What was refused, with each place. */
export function Refused({ error }: { error: Error }) {
  const problems = error instanceof ProblemError ? error.problem.errors : [];
  return (
    <div className="problems" role="alert" data-state="refused">
      <p>
        <strong>{error instanceof ProblemError ? error.problem.title : "Refused"}</strong>
        {`: ${error.message}`}
      </p>
      <ul className="bulleted">
        {problems.slice(0, 12).map((one) => (
          <li key={one.place + one.message}>{`${one.place}: ${one.message}${one.hint ? ` (${one.hint})` : ""}`}</li>
        ))}
        {problems.length > 12 && <li>{`and ${problems.length - 12} more`}</li>}
      </ul>
    </div>
  );
}
