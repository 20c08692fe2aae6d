import "./Steps.css";

import type { Details } from "../api/client";
import { PrintButton } from "./Printed";
import { STAGES } from "./stages";
import { useTicks } from "./useTicks";
import { Plain } from "./Plain";

type Step = Details["steps"][number];

interface Props {
  rig: { lens: string; body: string; adapters: string };
  steps: readonly Step[];
  title: string;
  /** With a heading for each time at which something is done. */
  staged?: boolean;
  /** The sheets that the buttons print, and what they say. */
  sheets: readonly { sheet: string | null; print: string }[];
}

/** What to do, in order, to be ticked off; the ticks stay with the rig for the day. */
export function Steps({ rig, steps, title, staged = false, sheets }: Props) {
  const { done, toggle, clear, error } = useTicks(rig);
  const numbered = steps.map((step, index) => ({ step, number: index + 1 }));
  const groups = staged
    ? STAGES.map(([stage, name]) => ({ name, items: numbered.filter(({ step }) => step.stage === stage) }))
    : [{ name: "", items: numbered }];
  return (
    <section className="steps-section">
      <h2>
        {title}
        {done.size > 0 && (
          <Plain className="unfold" onClick={clear}>
            {`${done.size} of ${steps.length} done, begin again`}
          </Plain>
        )}
      </h2>
      {error && (
        <p role="alert" className="problem-line">
          {`The ticks are not kept: ${error.message}`}
        </p>
      )}
      {groups
        .filter(({ items }) => items.length > 0)
        .map(({ name, items }) => (
          <div key={name}>
            {name && <h3 className="steps-stage">{name}</h3>}
            <ol className="steps" start={items[0]?.number}>
              {items.map(({ step, number }) => (
                <li key={step.text} className={`${step.caution ? "caution" : ""} ${done.has(step.text) ? "done" : ""}`}>
                  <label>
                    <input type="checkbox" checked={done.has(step.text)} onChange={() => toggle(step.text)} />
                    <span className="step-number">{number}</span>
                    <span>{step.text}</span>
                  </label>
                </li>
              ))}
            </ol>
          </div>
        ))}
      <p className="message-actions">
        {sheets.map(({ sheet, print }) => (
          <PrintButton key={print} {...(sheet === null ? {} : { sheet })}>
            {print}
          </PrintButton>
        ))}
      </p>
    </section>
  );
}
