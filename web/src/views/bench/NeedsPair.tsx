import { Link } from "react-router";

import type { BenchRig } from "./useRig";

/** What is said where a view wants a pair, and there is none, or nothing joins it. */
export function NeedsPair({ rig, what }: { rig: BenchRig; what: string }) {
  const nothing = rig.danger ?? rig.nothingFits;
  return (
    <div
      className="message"
      data-state={rig.danger !== null ? "danger" : nothing === null ? "no-pair" : "nothing-fits"}
    >
      <h1>{nothing ?? `${what}: which lens, on which body?`}</h1>
      <p className="message-actions">
        {nothing === null ? "Choose both above, or " : ""}
        <Link to="/">Light path</Link>
      </p>
    </div>
  );
}
