import { useQueries } from "@tanstack/react-query";

import type { Practice } from "../../api/client";
import { type GridEnds, whyQuery } from "../../api/planQueries";

const MOST = 12;

/** The lenses at hand that work on nothing that is there, and why. */
export function Stranded({ lenses, practice }: { lenses: readonly GridEnds[]; practice: Practice }) {
  const lone = lenses.filter((one) => one.at_hand > 0 && one.on_hand === 0);
  const whys = useQueries({ queries: lone.slice(0, MOST).map(({ id }) => whyQuery(id, "", practice)) });
  if (lone.length === 0) return null;
  return (
    <section className="stranded-list">
      <h2>{lone.length === 1 ? "Stranded: one lens" : `Stranded: ${lone.length} lenses`}</h2>
      <ul className="without">
        {lone.slice(0, MOST).map((one, place) => (
          <li key={one.id} data-stranded={one.id}>
            <b>{one.name}</b>
            {`: ${whys[place]?.data?.sentence ?? "…"}`}
          </li>
        ))}
      </ul>
      {lone.length > MOST && <p className="route-gives">{`and ${lone.length - MOST} more`}</p>}
    </section>
  );
}
