import { Link } from "react-router";

import type { PlanReport } from "../../api/planQueries";
import { GradeMark, gradeWord } from "../../drawing/GradeMark";
import { percent } from "../../parts/format";
import { rigPath } from "../../parts/rig";

/** What works then, by which rig; and what does not, why, and what would change that. */
export function Served({ report }: { report: PlanReport }) {
  return (
    <section>
      {report.unmet.length > 0 && (
        <>
          <h2>What cannot be met</h2>
          <ul className="unmet">
            {report.unmet.map((one) => (
              <li key={one.demand} data-unmet={one.name}>
                <b>{one.lens_name}</b>
                {one.body_names.length === 1 ? ` on ${one.body_names[0] ?? ""}` : ""}: {one.why}{" "}
                <span className="unmet-change">{one.advice?.says ?? ""}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      <h2>What works</h2>
      <ul className="serves">
        {report.serves.map((one) => (
          <li key={one.demand} data-serves={one.lens}>
            <GradeMark grade={one.grade} size={22} />
            <span>
              <Link to={rigPath(one)}>{`${one.lens_name} on ${one.body_name}`}</Link>
              <span className="route-gives">
                {`: ${gradeWord(one.grade)}${one.slow.length > 0 ? `, slowly: ${one.slow.map(spaced).join(", ")}` : ""}; ${one.adapter_names.join(" + ") || "bare"}${
                  one.adapters.length > 0 ? `; infinity ${percent(one.probability)}` : ""
                }`}
              </span>
              {one.usable_says.map((says) => (
                <span key={says} className="served-caution" data-usable-says>
                  {says}
                </span>
              ))}
              {one.cautions.map(({ code, text }) => (
                <span key={code} className="served-caution">
                  {text}
                </span>
              ))}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

const spaced = (name: string) => name.replaceAll("_", " ");
