import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import type { Practice } from "../../api/client";
import { gridQuery } from "../../api/planQueries";

const MOST = 8;

/** What a plan would be about: the lenses of the kit that work on nothing that is owned. */
export function Idle({ practice }: { practice: Practice }) {
  const grid = useQuery(gridQuery(practice));
  if (!grid.data) return <div className="skeleton" />;
  const { lenses, bodies } = grid.data.report;
  if (lenses.length === 0 || bodies.length === 0)
    return (
      <p>
        First <Link to="/begin">enter what you have</Link>: a body, and the lenses that are to go on it.
      </p>
    );
  const mine = lenses.filter(({ at_hand: owned }) => owned > 0);
  const idle = mine.filter(({ on_hand: now }) => now === 0);
  const more = mine.filter(({ works_now: now, could_work: could }) => could > now);
  const ofMine = mine.length === 1 ? "your lens" : `your ${mine.length} lenses`;
  return (
    <section className="plan-idle" data-idle={idle.length} data-more={more.length}>
      <p className="plan-preview">
        {idle.length === 0
          ? `Every one of ${ofMine} works on a body of yours.`
          : `${idle.length} of ${ofMine} ${idle.length === 1 ? "works" : "work"} on no body of yours.`}
        {more.length > 0 &&
          ` With something to buy, ${more.length} would work on more bodies: a plan finds the cheapest.`}
      </p>
      <ul className="held">
        {[...idle, ...more.filter((one) => !idle.includes(one))]
          .slice(0, MOST)
          .map(({ id, name, works_now: now, could_work: could }) => (
            <li key={id}>
              <Link to={`/?lens=${id}`}>{name}</Link>
              <span className="route-gives">
                {could > now ? `on ${now} now, on ${could} with something to buy` : `on ${now}, whatever is bought`}
              </span>
            </li>
          ))}
      </ul>
      {idle.length + more.length > MOST && <Link to="/grid">All of them, body by body</Link>}
    </section>
  );
}
