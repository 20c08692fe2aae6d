import "./More.css";

import Button from "antd/es/button";

import type { components } from "../../api/schema";
import type { MatchReport } from "../../api/client";

/** How many routes no one could want, and a way to see them; how many are not written out. */
export function Folded({
  report,
  everything,
  onToggle,
}: {
  report: MatchReport;
  everything: boolean;
  onToggle: (everything: boolean) => void;
}) {
  const { folded, left_out: leftOut, total } = report;
  if (folded === 0 && leftOut === 0 && !everything) return null;
  const said = [
    everything && leftOut === 0 ? `All ${total} ways are here.` : "",
    leftOut > 0
      ? `${leftOut} more are left out here: allow fewer adapters in a row, or put one together.`
      : "",
    folded > 0 && !everything
      ? `${folded} more ${folded === 1 ? "is" : "are"} no better in anything than one of these.`
      : "",
  ];
  return (
    <p className="folded">
      <span>{said.filter(Boolean).join(" ")}</span>
      {(folded > 0 || everything) && (
        <Button size="small" type="link" onClick={() => onToggle(!everything)}>
          {everything ? "Fold them" : "Show them"}
        </Button>
      )}
    </p>
  );
}

/** What would have to exist, or to be done; what can be undone comes first. */
export function WouldNeed({ needs }: { needs: components["schemas"]["WouldNeed"][] }) {
  return (
    <ul className="findings needs">
      {needs.map((need) => (
        <li key={need.text} data-kind={need.kind} className={need.practical === false ? "impractical" : ""}>
          {need.text}
        </li>
      ))}
    </ul>
  );
}
