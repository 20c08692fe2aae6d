import "./More.css";

import Button from "antd/es/button";

import type { components } from "../../api/schema";
import type { MatchReport } from "../../api/client";

/** How many routes are beaten in everything, and a way to see them. */
export function Folded({
  report,
  everything,
  onToggle,
}: {
  report: MatchReport;
  everything: boolean;
  onToggle: (everything: boolean) => void;
}) {
  if (report.folded === 0 && !everything) return null;
  const count =
    report.folded === 1
      ? "1 more is beaten in everything by another."
      : `${report.folded} more are beaten in everything by another.`;
  const counted = report.total - report.folded;
  return (
    <p className="folded">
      <span>
        {everything
          ? `All ${report.total} ways are here.`
          : `${count} ${counted} of ${report.total} ways remain.`}
      </span>
      <Button size="small" type="link" onClick={() => onToggle(!everything)}>
        {everything ? "Fold them" : "Show them"}
      </Button>
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
