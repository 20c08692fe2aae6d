import Button from "antd/es/button";

import { Link, useSearchParams } from "react-router";

import { ProblemError } from "../api/client";

/** The server did not answer, or refused. */
export function Failed({ error, onRetry }: { error: Error; onRetry: () => void }) {
  const refused = error instanceof ProblemError ? error.problem : null;
  const [words] = useSearchParams();
  const body = words.get("body");
  return (
    <div className="message" role="alert" data-state="failed">
      <h1>{refused ? refused.title : "Tropeion’s server does not answer."}</h1>
      <p>
        {refused
          ? refused.detail
          : "It runs on this machine: look whether the terminal that started it is still open."}
      </p>
      {(refused?.errors ?? []).slice(0, 5).map((entry) => (
        <p key={entry.place}>{`${entry.place}: ${entry.message}`}</p>
      ))}
      <p className="message-actions">
        {refused?.type === "mountless" && refused.id ? (
          <Link
            to={`/bench?${new URLSearchParams({ ...(body ? { body } : {}), view: "mountless", mountless: refused.id })}`}
            data-action="build-mount"
          >
            See how it could be mounted
          </Link>
        ) : (
          <Button type="primary" onClick={onRetry}>
            Try again
          </Button>
        )}
      </p>
    </div>
  );
}
