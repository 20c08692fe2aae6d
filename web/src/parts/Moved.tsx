import Button from "antd/es/button";

import type { ProblemError } from "../api/client";

interface Props {
  error: ProblemError;
  /** What differs, as it is called; what is there now, and what this window wanted. */
  sides: readonly { name: string; theirs: string; mine: string }[];
  onTheirs: () => void;
  onMine: () => void;
}

/** Somebody else changed it meanwhile: both sides, and which of them shall stand. */
export function Moved({ error, sides, onTheirs, onMine }: Props) {
  return (
    <div className="problems" role="alert" data-state="moved">
      <p>
        <strong>{error.problem.title}</strong>
        {`: ${error.message}`}
      </p>
      <ul className="bulleted">
        {sides.map(({ name, theirs, mine }) => (
          <li key={name}>{`${name}: ${theirs} there, ${mine} here`}</li>
        ))}
      </ul>
      <Button size="small" onClick={onTheirs}>
        Keep what is there
      </Button>{" "}
      <Button size="small" type="primary" onClick={onMine}>
        Keep mine
      </Button>
    </div>
  );
}
