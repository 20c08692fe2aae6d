import "./Steps.css";

import type { Details, MatchReport, Route } from "../../api/client";
import { PrintButton } from "../../parts/Printed";
import { useTicks } from "./useTicks";

interface Props {
  report: MatchReport;
  route: Route;
  details: Details;
}

/** What to do, in order, to be ticked off; the ticks stay with the rig for the day. */
export function Steps({ report, route, details }: Props) {
  const rig = { lens: report.lens, body: report.body, adapters: route.adapters.join(",") };
  const { done, toggle, clear, error } = useTicks(rig);
  return (
    <section className="steps-section">
      <h2>
        {route.grade === "danger" ? "Before anything else" : "Steps"}
        {done.size > 0 && (
          <button type="button" className="unfold" onClick={clear}>
            {`${done.size} of ${details.steps.length} done, begin again`}
          </button>
        )}
      </h2>
      {error && (
        <p role="alert" className="problem-line">
          {`The ticks are not kept: ${error.message}`}
        </p>
      )}
      <ol className="steps">
        {details.steps.map((step, index) => (
          <li
            key={step.text}
            className={`${step.caution ? "caution" : ""} ${done.has(step.text) ? "done" : ""}`}
          >
            <label>
              <input type="checkbox" checked={done.has(step.text)} onChange={() => toggle(step.text)} />
              <span className="step-number">{index + 1}</span>
              <span>{step.text}</span>
            </label>
          </li>
        ))}
      </ol>
      <PrintButton sheet="card">Print the card, one A5 side</PrintButton>
    </section>
  );
}
