import Button from "antd/es/button";
import { Link } from "react-router";

import { useChange } from "../../app/useChange";
import type { BenchRig } from "./useRig";

/** What is said where a view wants a pair, and there is none, nothing joins it, or it must not be put together. */
export function NeedsPair({ rig, what }: { rig: BenchRig; what: string }) {
  const [, change] = useChange();
  const nothing = rig.danger ?? rig.nothingFits;
  return (
    <div
      className="message"
      data-state={rig.danger !== null ? "danger" : nothing === null ? "no-pair" : "nothing-fits"}
    >
      <h1>{nothing ?? `${what}: which lens, on which body?`}</h1>
      <p className="message-actions">
        {rig.danger !== null && (
          <Button onClick={() => change({ mounted: "1" }, false)} data-action="mounted">
            It is on the camera already
          </Button>
        )}
        {nothing === null ? "Choose both above, or " : ""}
        <Link to="/">Light path</Link>
      </p>
    </div>
  );
}
