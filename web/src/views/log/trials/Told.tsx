import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import { useState } from "react";

import type { TrialLine } from "../../../api/trialQueries";
import { Plain } from "../../../parts/Plain";
import { Refused } from "../../../parts/Refused";
import { useStrike } from "../../../parts/useStrike";

/** Every trial in a line: those that contradict stand side by side until one is struck out. */
export function Told({ lines }: { lines: readonly TrialLine[] }) {
  if (lines.length === 0) return null;
  return (
    <section>
      <h2>Every trial</h2>
      <ul className="trials-told" aria-label="Every trial">
        {lines.map((line) => (
          <OneTrial key={`${line.trial.id} ${line.version}`} line={line} />
        ))}
      </ul>
    </section>
  );
}

function OneTrial({ line: { trial, says, whose, not_counted: not } }: { line: TrialLine }) {
  const [striking, setStriking] = useState(false);
  const [reason, setReason] = useState("");
  const strike = useStrike("trials");
  return (
    <li className={not ? "trial-not-counted" : ""} data-trial={trial.id}>
      <span>{says}</span>
      <span className="trials-whose">
        {[whose, trial.at.slice(0, 10), trial.file, trial.note, not && `not counted: ${not}`]
          .filter(Boolean)
          .join(", ")}
      </span>
      {trial.struck === null && !striking && (
        <Plain className="unfold" onClick={() => setStriking(true)}>
          strike out
        </Plain>
      )}
      {striking && (
        <form
          className="log-because"
          onSubmit={(event) => {
            event.preventDefault();
            strike.mutate({ id: trial.id, reason: reason.trim() });
          }}
        >
          <Input
            aria-label="Why it counts no more"
            placeholder="why it counts no more"
            value={reason}
            maxLength={400}
            onChange={(event) => setReason(event.target.value)}
          />
          <Button htmlType="submit" disabled={reason.trim() === ""} loading={strike.isPending}>
            Strike it out
          </Button>
          <Button onClick={() => setStriking(false)}>Cancel</Button>
        </form>
      )}
      {strike.error && <Refused error={strike.error} />}
    </li>
  );
}
