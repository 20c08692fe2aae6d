import "./Rigs.css";

import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import type { KeptRig } from "../../api/client";
import { rigsQuery } from "../../api/queries";
import { gradeTitle, GradeMark, gradeWord } from "../../drawing/GradeMark";
import { Failed } from "../../parts/Failed";
import { rigPath } from "../../parts/rig";
import { RigMiniature } from "../../parts/RigMiniature";
import { Plain } from "../../parts/Plain";

interface Props {
  q: string;
  chosen: string | null;
  onChoose: (id: string) => void;
}

export const rigAddress = (rig: Pick<KeptRig, "lens" | "body" | "adapters">) => rigPath(rig);

/** Saved rigs: what each comes to today; those whose grade has changed since they were kept stand first. */
export function Rigs({ q, chosen, onChoose }: Props) {
  const rigs = useQuery(rigsQuery);
  if (rigs.error) return <Failed error={rigs.error} onRetry={() => void rigs.refetch()} />;
  if (!rigs.data) return <div className="skeleton" aria-busy="true" />;
  const words = q.toLowerCase().split(/\s+/).filter(Boolean);
  const { pieces } = rigs.data;
  const text = (rig: KeptRig) =>
    [rig.name, rig.notes, ...[rig.lens, rig.body, ...rig.adapters].map((id) => pieces[id]?.name ?? "")]
      .join(" ")
      .toLowerCase();
  const found = rigs.data.rigs.filter((rig) => words.every((word) => text(rig).includes(word)));
  found.sort((one, other) => Number(other.changed) - Number(one.changed));
  if (rigs.data.rigs.length === 0) {
    return (
      <div className="message" data-state="empty">
        <h2>No rig is kept yet.</h2>
        <p>
          On the light path, choose a route and “Keep this rig”: it stays here by its name, and tells when a later
          correction changes its grade.
        </p>
        <p className="message-actions">
          <Link to="/">To the light path</Link>
        </p>
      </div>
    );
  }
  return (
    <ul className="rigs">
      {found.map((rig) => (
        <li key={rig.id} data-rig={rig.id} className={rig.id === chosen ? "chosen" : ""}>
          <Plain className="rig" onClick={() => onChoose(rig.id)} aria-current={rig.id === chosen ? "true" : undefined}>
            <RigMiniature rig={rig} pieces={pieces} />
            <span className="rig-said">
              <span className="rig-name">{rig.name}</span>
              <span className="shelf-detail">
                {[rig.lens, ...rig.adapters, rig.body].map((id) => pieces[id]?.name ?? id).join(" + ")}
              </span>
              {rig.changed && rig.kept_grade && <span className="warning">{changeOf(rig)}</span>}
              {rig.retired.length > 0 && (
                <span className="warning">{`Archived meanwhile: ${rig.retired.join(", ")}.`}</span>
              )}
            </span>
            <span className="rig-grade">
              <GradeMark grade={rig.grade} size={22} /> {gradeTitle(rig.grade)}
            </span>
          </Plain>
          <span className="rig-links">
            <Link to={rigAddress(rig)}>Light path</Link>
            <Link to={`/setup/${rig.id}`}>Set-up</Link>
          </span>
        </li>
      ))}
      {found.length === 0 && <li className="route-gives">No kept rig holds these words.</li>}
    </ul>
  );
}

function changeOf({ kept_grade: before, graded_on: day, grade }: KeptRig): string {
  const when = day ? ` on ${day}` : "";
  return before ? `When it was kept${when}: ${gradeWord(before)}. Now: ${gradeWord(grade)}.` : "";
}
