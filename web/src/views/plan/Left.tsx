import type { Curve, PlanReport } from "../../api/planQueries";
import { money } from "../../parts/format";

interface Props {
  report: PlanReport;
  curve: Curve | null;
}

/** After the plan: what it would come to without a piece, what is left over, what was never looked at. */
export function Left({ report, curve }: Props) {
  const { spare, currency } = report;
  const unpriced = report.unpriced.map(({ name }) => name).join(", ");
  const known = spare.flatMap(({ resale, count }) => (resale === null ? [] : [resale * count]));
  const brings = known.reduce((sum, one) => sum + one, 0);
  const more = known.length < spare.length ? ", and what nobody priced" : "";
  const near = curve?.without.find((one) => one.near);
  return (
    <>
      {curve && curve.without.length > 0 && (
        <section data-without="there">
          <h2>If a piece cannot be had</h2>
          {near && (
            <p data-second={near.id}>
              {`The next best plan is near: ${money(near.cost, currency)}, with ${near.buys.join(", ")}.`}
            </p>
          )}
          <ul className="without">
            {curve.without.map((one) => (
              <li key={one.id}>{withoutSaid(one, report)}</li>
            ))}
          </ul>
        </section>
      )}
      {spare.length > 0 && (
        <section>
          <h2>Left over</h2>
          <p>
            {`${spare.length} adapters you own serve nothing of this.`}
            {brings > 0 && ` They would bring ${money(brings, currency)}${more}.`}
          </p>
          <ul className="without">
            {spare.map((one) => (
              <li key={one.id}>
                {one.name}
                <span className="route-gives">
                  {one.doubled_by ? `: doubled by ${one.doubled_by}` : ": not needed for this"}
                  {one.resale === null ? "" : `, ${money(one.resale, currency)}`}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {report.unpriced.length > 0 && (
        <section>
          <h2>Without a price</h2>
          <p>{`Never bought, since nobody said what they cost: ${unpriced}.`}</p>
        </section>
      )}
      {report.ruled_out.length > 0 && (
        <details className="plan-ruled">
          <summary>{`${report.ruled_out.length} pieces ruled out`}</summary>
          <ul className="without">
            {report.ruled_out.map(({ id, name, why }) => (
              <li key={id}>{`${name}: ${why}`}</li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

function withoutSaid(one: Curve["without"][number], report: PlanReport): string {
  const met = one.met < report.met ? `${report.met - one.met} fewer work` : "all the same";
  return `Without ${one.name}: ${met}, ${money(one.cost, report.currency)}${one.proven ? "" : " or less"}.`;
}
