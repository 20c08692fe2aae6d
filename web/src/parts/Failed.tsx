import Button from "antd/es/button";
import { lazy, Suspense, useEffect } from "react";
import { Link, useSearchParams } from "react-router";

import { ProblemError } from "../api/client";
import { forgetPair } from "../app/lastPair";
import { CARRIES } from "../pocket/away";

const UndoBar = lazy(async () => ({ default: (await import("./UndoBar")).UndoBar }));

type Problem = ProblemError["problem"];

/** Where all of one kind are listed. */
const LISTS: Readonly<Record<string, readonly [path: string, name: string]>> = {
  lens: ["/kit/lenses", "All lenses"],
  body: ["/kit/bodies", "All bodies"],
  adapter: ["/kit/adapters", "All adapters"],
  accessory: ["/kit/accessories", "All accessories"],
  mount: ["/mounts", "All mounts"],
  rig: ["/kit/rigs", "Kept rigs"],
  plan: ["/plan", "All plans"],
  outing: ["/outing", "All outings"],
  folder: ["/log/pictures", "All pictures"],
};

/** The server did not answer, or refused, or what was asked for is not there. */
export function Failed({ error, onRetry }: { error: Error; onRetry: () => void }) {
  const refused = error instanceof ProblemError ? error.problem : null;
  if (refused?.type === "unknown_id" && (refused.kind ?? "") in LISTS) return <Gone problem={refused} />;
  return (
    <div className="message" role="alert" data-state="failed">
      <h1>{refused ? refused.title : CARRIES ? "This needs the machine." : "Tropeion’s server does not answer."}</h1>
      <p>
        {refused
          ? refused.detail
          : CARRIES
            ? "It does not answer from here. What is carried, the cards and the log are on this device."
            : "It runs on this machine: look whether the terminal that started it is still open. What you typed is kept."}
      </p>
      {(refused?.errors ?? []).slice(0, 5).map((entry) => (
        <p key={entry.place}>{`${entry.place}: ${entry.message}`}</p>
      ))}
      <p className="message-actions">
        <WayOut problem={refused} onRetry={onRetry} />
        {!refused && CARRIES && <Link to="/pocket">What is carried</Link>}
      </p>
    </div>
  );
}

function WayOut({ problem, onRetry }: { problem: Problem | null; onRetry: () => void }) {
  const [words] = useSearchParams();
  const body = words.get("body");
  if (problem?.type !== "mountless" || !problem.id)
    return (
      <Button type="primary" onClick={onRetry}>
        Try again
      </Button>
    );
  const asked = { ...(body ? { body } : {}), view: "mountless", mountless: problem.id };
  return (
    <Link to={`/bench?${new URLSearchParams(asked)}`} data-action="build-mount">
      See how it could be mounted
    </Link>
  );
}

/** What was deleted, or never was: undo brings it back, and its list is there. */
function Gone({ problem }: { problem: Problem }) {
  const kind = problem.kind ?? "item";
  const [path, name] = LISTS[kind] ?? ["/kit", "The kit"];
  // Folders are counted anew where what was read of them is gone; no undo brings a number back.
  const counted = kind === "folder";
  useEffect(() => {
    if (!counted) forgetPair();
  }, [counted]);
  return (
    <div className="message" role="alert" data-state="gone">
      <h1>{`There is no such ${kind} here.`}</h1>
      {counted ? (
        <p>Its number stands for nothing here: choose it again.</p>
      ) : (
        <>
          <p>{`No ${kind} is called “${problem.id ?? ""}”. If it was deleted, undo brings it back.`}</p>
          <Suspense fallback={null}>
            <UndoBar />
          </Suspense>
        </>
      )}
      <p className="message-actions">
        <Link to={path}>{name}</Link>
      </p>
    </div>
  );
}
