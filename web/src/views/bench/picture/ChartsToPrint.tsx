import { useQuery } from "@tanstack/react-query";
import Input from "antd/es/input/Input";
import { useState } from "react";

import { chartQuery } from "../../../api/measuredQueries";
import { ChartDistance } from "../../../drawing/measured/ChartDistance";
import { ChartPaper } from "../../../drawing/measured/ChartPaper";
import { Failed } from "../../../parts/Failed";
import { Plain } from "../../../parts/Plain";
import { PrintButton, Printed } from "../../../parts/Printed";
import { numberIn } from "../useKept";
import type { RigProps } from "../useRig";

const within = (text: string, usual: number, least: number, most: number) => {
  const value = numberIn(text);
  return value !== null && value >= least && value <= most ? value : usual;
};

const FIELDS = [
  ["side", "squares of, mm"],
  ["across", "sheets across"],
  ["down", "sheets down"],
  ["printer", "the printer’s edge, mm"],
] as const;

/** A chart and a focus ladder to print at true size, and how far away they stand. */
export function ChartsToPrint({ rig }: RigProps) {
  const [kind, setKind] = useState<"edges" | "ladder">("edges");
  const [written, setWritten] = useState({ side: "60", across: "1", down: "1", printer: "0.1" });
  const asked = {
    kind,
    side_mm: within(written.side, 60, 10, 120),
    across: Math.round(within(written.across, 1, 1, 4)),
    down: Math.round(within(written.down, 1, 1, 4)),
    printer_mm: within(written.printer, 0.1, 0.001, 2),
    ...(rig.lens === null ? {} : { lens: rig.lens }),
    ...(rig.body === null ? {} : { body: rig.body }),
  };
  const chart = useQuery({ ...chartQuery(asked), placeholderData: (before) => before });
  if (chart.error && !chart.data) return <Failed error={chart.error} onRetry={() => void chart.refetch()} />;
  const sheet = chart.data;
  return (
    <div className="sheet bench-sheet measured-sheet" data-chart={sheet ? kind : undefined}>
      <div className="screen-head" aria-live="polite">
        <h1>{sheet?.says ?? "A chart to photograph."}</h1>
        <p>
          {kind === "edges"
            ? "Nearer, and the printer’s own edge shows; farther, and an edge spans fewer than 60 pixels. "
            : "The printer’s edge softens every rung alike and moves no peak. "}
          Print at 100 %, on matt paper, and check the bar with a rule.
        </p>
      </div>
      <div className="bench-choose">
        <div className="toggles" role="group" aria-label="Which chart">
          {(["edges", "ladder"] as const).map((one) => (
            <Plain key={one} className="filter-toggle" aria-pressed={kind === one} onClick={() => setKind(one)}>
              {one === "edges" ? "Squares" : "Ladder"}
            </Plain>
          ))}
        </div>
        {(kind === "edges" ? FIELDS : []).map(([name, label]) => (
          <label key={name} className="bench-field">
            <span>{label}</span>
            <Input
              inputMode="decimal"
              value={written[name]}
              onChange={(event) => setWritten({ ...written, [name]: event.target.value })}
              data-field={name}
            />
          </label>
        ))}
        <PrintButton sheet="measured-chart">Print it</PrintButton>
      </div>
      {chart.error && <p className="problem-line">{chart.error.message}</p>}
      {sheet && (
        <div className="measured-papers">
          <div className="measured-sheets">
            {sheet.pages.map((page) => (
              <ChartPaper key={page.label} sheet={sheet} page={page} small />
            ))}
          </div>
          <ChartDistance sheet={sheet} ladder={kind === "ladder"} />
        </div>
      )}
      {sheet && (
        <Printed name="measured-chart" usual>
          {() => (
            <>
              {sheet.pages.map((page) => (
                <ChartPaper key={page.label} sheet={sheet} page={page} />
              ))}
            </>
          )}
        </Printed>
      )}
    </div>
  );
}
