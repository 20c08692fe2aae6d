import Button from "antd/es/button";

import type { CameraReport } from "../../../api/client";
import { useTicksOfHand } from "./useTicksOfHand";

type Rehearsal = NonNullable<CameraReport["rehearsal"]>;

/** What the marks stand for, by shape and word. */
const SEEN = { done: "done", not_yet: "not yet", hand: "by hand" } as const;

interface Props {
  rehearsal: Rehearsal;
  onAgain: () => void;
}

/** The card as the camera sees it: what it can tell is marked by it, the rest is ticked by hand. */
export function RehearsedCard({ rehearsal, onAgain }: Props) {
  const hand = useTicksOfHand();
  return (
    <section className="rehearsed">
      <h2>The card, as the camera sees it</h2>
      <ol className="steps rehearsed-steps">
        {rehearsal.steps.map((step) => {
          const mends = rehearsal.mends.includes(step.number);
          const done = step.seen === "done" || (step.seen === "hand" && hand.done.has(step.number));
          return (
            <li
              key={step.number}
              data-step={step.number}
              data-seen={step.seen}
              className={[step.caution ? "caution" : "", done ? "done" : "", mends ? "mends" : ""].join(" ")}
              aria-current={step.number === rehearsal.next ? "step" : undefined}
            >
              {step.seen === "hand" ? (
                <label>
                  <input
                    type="checkbox"
                    checked={hand.done.has(step.number)}
                    onChange={() => hand.toggle(step.number)}
                  />
                  <span className="step-number">{step.number}</span>
                  <span>{step.text}</span>
                </label>
              ) : (
                <div className="seen-step">
                  <span className={`seen-mark ${step.seen}`} aria-hidden />
                  <span className="step-number">{step.number}</span>
                  <span>
                    {step.text}
                    <span className="unseen">{` (${SEEN[step.seen]})`}</span>
                    {mends && <strong className="mends-word"> This mends it.</strong>}
                  </span>
                </div>
              )}
            </li>
          );
        })}
      </ol>
      <Button
        onClick={() => {
          hand.clear();
          onAgain();
        }}
      >
        Begin again
      </Button>
    </section>
  );
}
