import { Link } from "react-router";

import { ProblemError } from "../../api/client";
import { Failed } from "../../parts/Failed";

/** A system that is not there, or a server that did not answer. */
export function NoSystem({ error, onRetry }: { error: Error; onRetry: () => void }) {
  if (!(error instanceof ProblemError) || error.problem.type !== "unknown_id")
    return <Failed error={error} onRetry={onRetry} />;
  return (
    <div className="message" role="alert">
      <h1>There is no mount system of this name in the collection.</h1>
      <p className="message-actions">
        {error.problem.near.map((id) => (
          <Link key={id} to={`/mounts/${id}`}>
            {id}
          </Link>
        ))}
        <Link to="/mounts">All mount systems</Link>
      </p>
    </div>
  );
}
