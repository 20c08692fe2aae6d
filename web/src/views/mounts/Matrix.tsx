import "./Matrix.css";

import { Fragment } from "react";
import { Link } from "react-router";

import type { SystemsReport } from "../../api/client";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { classes } from "../../parts/classes";
import { signedLength } from "../../parts/format";
import { type Crossings, JOINT_WORDS, type Side } from "./crossings";
import { Plain } from "../../parts/Plain";

interface Props {
  report: SystemsReport;
  crossings: Crossings;
  chosen: string | null;
  side: Side;
  onChoose: (next: { of: string; side: Side }) => void;
}

/** Lenses of every system on bodies of every system: the best grade there is, at a glance. */
export function Matrix({ report, crossings, chosen, side, onChoose }: Props) {
  const fronts = report.systems.filter(({ lenses }) => lenses > 0);
  const rears = report.systems.filter(({ bodies }) => bodies > 0);
  if (fronts.length === 0 || rears.length === 0) return <p>Without lenses and bodies there is nothing to cross.</p>;
  return (
    <section className="matrix">
      <h2>Best grade: lenses (rows) on bodies (columns)</h2>
      <div className="matrix-scroll">
        <table>
          <thead>
            <tr>
              <td />
              {rears.map((rear) => (
                <th key={rear.id} scope="col" className={side === "body" && chosen === rear.id ? "is-chosen" : ""}>
                  <Plain onClick={() => onChoose({ of: rear.id, side: "body" })}>{rear.name}</Plain>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {fronts.map((front) => (
              <tr key={front.id} className={side === "lens" && chosen === front.id ? "is-chosen" : ""}>
                <th scope="row">
                  <Plain onClick={() => onChoose({ of: front.id, side: "lens" })}>{front.name}</Plain>
                </th>
                {rears.map((rear) => {
                  const crossing = crossings.of("lens", front.id, rear.id);
                  if (!crossing) return <Fragment key={rear.id} />;
                  const { grade, ways, joint, room_mm } = crossing;
                  const graded = grade ? gradeTitle(grade) : ways ? "not graded" : "nothing joins them";
                  const routes = ways === 1 ? "1 route" : `${ways} routes`;
                  const room = `Room ${signedLength(room_mm)}${joint === "unknown" ? "" : `, ${JOINT_WORDS[joint]}`}; ${routes}.`;
                  const said = `${front.name} on ${rear.name}: ${graded}. ${room}`;
                  return (
                    <td
                      key={rear.id}
                      title={said}
                      className={classes(
                        "cell",
                        grade ?? "nothing",
                        side === "body" && chosen === rear.id && "is-chosen",
                      )}
                      data-cell={`${front.id} ${rear.id}`}
                    >
                      <Link
                        to={`/?lens=${crossing.lens ?? ""}&body=${crossing.body ?? ""}`}
                        tabIndex={grade ? 0 : -1}
                        aria-disabled={!grade}
                        onClick={(event) => {
                          if (!grade) event.preventDefault();
                        }}
                      >
                        {grade ? <GradeMark grade={grade} size={22} /> : <span className="cell-nothing" />}
                        <span className="unseen">{said}</span>
                      </Link>
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {!report.graded && <p>The collection is too large to grade every pair here: choose a pair on the light path.</p>}
      <ul className="legend">
        {(["native", "full", "manual", "partial", "close_up", "none", "danger"] as const).map((grade) => (
          <li key={grade}>
            <GradeMark grade={grade} size={18} /> {gradeTitle(grade)}
          </li>
        ))}
      </ul>
    </section>
  );
}
