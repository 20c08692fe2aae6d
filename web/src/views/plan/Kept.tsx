import Button from "antd/es/button";

import type { PlanPage, PlanReport } from "../../api/planQueries";
import { money } from "../../parts/format";

interface Props {
  page: PlanPage;
  report: PlanReport | null;
  ready: boolean;
  keeping: { mutate: () => void; isPending: boolean };
}

/** What was kept of a plan: whether it still holds, what has changed, and what it would be now. */
export function Kept({ page, report, ready, keeping }: Props) {
  const { kept, standing, currency } = page;
  const button = (words: string, primary: boolean) => (
    <Button
      type={primary ? "primary" : "default"}
      disabled={!ready || !report}
      loading={keeping.isPending}
      onClick={() => keeping.mutate()}
    >
      {words}
    </Button>
  );
  if (!kept || !standing) return <p className="plan-kept">{button("Keep this plan", true)}</p>;
  if (standing.holds)
    return (
      <p className="plan-kept" data-holds="yes">
        {`Kept on ${kept.on} for ${money(kept.cost, currency)}; it still holds.`}
      </p>
    );
  const now = report && ready ? money(report.cost, currency) : "…";
  const same = report !== null && sameBuys(kept.buys, report.bought);
  return (
    <div className="plan-kept plan-broken-box" data-holds="no">
      <p className="plan-broken">
        {`Kept on ${kept.on} for ${money(kept.cost, currency)}; that does not hold any more.`}
      </p>
      <ul className="bulleted">
        {standing.changes.map(({ text, breaks }) => (
          <li key={text} className={breaks ? "plan-broken" : ""}>
            {text}
          </li>
        ))}
      </ul>
      <p>
        {standing.cost_now !== null && `The same pieces cost ${money(standing.cost_now, currency)} now. `}
        {same ? `It is still the best, for ${now}. ` : `The best would be ${now} now, with what stands below. `}
        {button("Keep it as it is now", true)}
      </p>
    </div>
  );
}

type Counted = readonly { id: string; count: number }[];

const sameBuys = (kept: Counted, bought: Counted) =>
  kept.length === bought.length &&
  kept.every(({ id, count }) => bought.some((one) => one.id === id && one.count === count));
