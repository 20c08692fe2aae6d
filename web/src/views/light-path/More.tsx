import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";

import type { components } from "../../api/schema";
import type { MatchReport } from "../../api/client";
import { fitsQuery } from "../../api/queries";
import type { Chosen } from "../../app/practice";
import { GRADE_WORDS, GradeMark } from "../../drawing/GradeMark";

/** How many routes are beaten in everything, and a way to see them. */
export function Folded({ report, everything, onToggle }: { report: MatchReport; everything: boolean; onToggle: (everything: boolean) => void }) {
  if (report.folded === 0 && !everything) return null;
  const count = report.folded === 1 ? "1 more is beaten in everything by another." : `${report.folded} more are beaten in everything by another.`;
  const counted = report.total - report.folded;
  return (
    <p className="folded">
      <span>{everything ? `All ${report.total} ways are here.` : `${count} ${counted} of ${report.total} ways remain.`}</span>
      <Button
        size="small"
        type="link"
        onClick={() => {
          onToggle(!everything);
        }}
      >
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

/** What fits the one end that is given, best first. */
export function Fits({ end, practice, onPick }: { end: { lens: string } | { body: string }; practice: Chosen; onPick: (id: string) => void }) {
  const fits = useQuery(fitsQuery(end, practice));
  if (fits.isError) return <p role="alert">{fits.error.message}</p>;
  if (!fits.data) return null;
  return (
    <section className="fits" data-fits-for={fits.data.id}>
      <h2>{fits.data.given === "lens" ? "What it goes onto" : "What goes onto it"}</h2>
      <ul>
        {fits.data.fits.map((fit) => (
          <li key={fit.id}>
            <button
              type="button"
              className="fit"
              data-id={fit.id}
              onClick={() => {
                onPick(fit.id);
              }}
            >
              <GradeMark grade={fit.grade ?? "none"} size={22} />
              <span className="route-name">
                <span>{fit.name}</span>
                <span className="route-gives">{fit.sentence}</span>
                {fit.warnings.map((warning) => (
                  <span key={warning} className="warning">
                    {warning}
                  </span>
                ))}
              </span>
              <span className="fit-through">
                {fit.grade === null ? "" : fit.adapter_names.join(" + ") || "bare"}
              </span>
              <span className="fit-grade">{fit.grade === null ? "Nothing joins them" : GRADE_WORDS[fit.grade]}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
