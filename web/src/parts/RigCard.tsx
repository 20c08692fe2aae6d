import "./RigCard.css";

import type { SetUp } from "../api/client";
import { today } from "./format";
import { gradeTitle, GradeMark } from "../drawing/GradeMark";
import { Printed, useFit } from "./Printed";
import { STAGES } from "./stages";
import { viaOf } from "./rig";

/** Within the margins of its page, in millimetres. */
const SIZES = { a5: { width: 130, height: 191 }, a6: { width: 91, height: 133 } } as const;
// A quarter of an A4 page, within its own rim.
const QUARTER = { width: 88, height: 130 };

interface Props {
  report: SetUp;
  name: string;
}

/** The card of a rig on a side of A5 or A6. */
export function PrintedRigCard({ report, name, size }: Props & { size: keyof typeof SIZES }) {
  return (
    <Printed name={`card-${size}`} fit={SIZES[size]}>
      {() => <RigCard report={report} name={name} />}
    </Printed>
  );
}

/** The cards of several rigs, four on a side of A4, to be cut apart. */
export function PrintedRigCards({ reports }: { reports: readonly Props[] }) {
  return (
    <Printed name="cards-a4">
      {() => (
        <div className="rig-cards">
          {reports.map(({ report, name }) => (
            <Quarter key={`${report.lens} ${report.body} ${viaOf(report.adapters)}`} report={report} name={name} />
          ))}
        </div>
      )}
    </Printed>
  );
}

function Quarter(props: Props) {
  const ref = useFit<HTMLDivElement>(QUARTER);
  return (
    <div ref={ref} className="rig-card-quarter">
      <RigCard {...props} />
    </div>
  );
}

function RigCard({ report, name }: Props) {
  const { names, entries } = report;
  const nameOf = (id: string) => names[id] ?? id;
  const chain = report.adapters.map(nameOf).join(" + ") || "bare";
  return (
    <div className="rig-card">
      <header>
        <GradeMark grade={report.grade} size={18} />
        <div>
          <h1>{name || `${nameOf(report.lens)} on ${nameOf(report.body)}`}</h1>
          <p>{`${nameOf(report.lens)}, ${chain}, on ${nameOf(report.body)}. ${gradeTitle(report.grade)}.`}</p>
        </div>
      </header>
      {entries.length > 0 && (
        <p className="rig-card-entries">
          {`Enter ${entries
            .map((one) => (entries.length > 1 ? `${one.entry_mm} at ${one.focal_length_mm}` : String(one.entry_mm)))
            .join(", ")} mm.`}
        </p>
      )}
      {STAGES.map(([stage, title]) => {
        const steps = report.steps.filter((step) => step.stage === stage);
        return (
          steps.length > 0 && (
            <section key={stage}>
              <h2>{title}</h2>
              <ul>
                {steps.map(({ text, caution }) => (
                  <li key={text} className={caution ? "caution" : ""}>
                    {text}
                  </li>
                ))}
              </ul>
            </section>
          )
        );
      })}
      <footer>
        {`${today()}. ${report.support_says} Power off for every swap; force nothing. Local safety rules come first.`}
      </footer>
    </div>
  );
}
