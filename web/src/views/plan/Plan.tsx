import "./Plan.css";

import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import { useState } from "react";
import { Link, useParams } from "react-router";

import type { PlanReport, PlanWork } from "../../api/planQueries";
import { useScreen } from "../../app/screen";
import { useAddress } from "../../app/useAddress";
import { useChange } from "../../app/useChange";
import { MoneyCurve, slowly, stepAt } from "../../drawing/plan/MoneyCurve";
import { Failed } from "../../parts/Failed";
import { money } from "../../parts/format";
import { Refused } from "../../parts/Refused";
import { UndoBar } from "../../parts/UndoBar";
import { useWidth } from "../../parts/useWidth";
import { Views } from "../../parts/Views";
import { Asked } from "./Asked";
import { Filters } from "./Filters";
import { HELP } from "./help";
import { Kept } from "./Kept";
import { Left } from "./Left";
import { Limits } from "./Limits";
import { LookFor } from "./LookFor";
import { Native } from "./Native";
import { Served } from "./Served";
import { Shop } from "./Shop";
import { usePlan } from "./usePlan";
import { Variants } from "./Variants";

const VIEWS = [
  { view: "buy", name: "What to buy" },
  { view: "asked", name: "What must work" },
  { view: "native", name: "Adapt or native" },
  { view: "rings", name: "Ring by ring" },
  { view: "filters", name: "Filters" },
] as const;
type View = (typeof VIEWS)[number]["view"];

/** What must work, and the least money that does it. */
export default function Plan() {
  const { id = "" } = useParams();
  const [{ practice }] = useAddress();
  const [address, change] = useChange();
  const plan = usePlan(id, practice);
  const [frame, width] = useWidth<HTMLDivElement>();
  const [dragged, setDragged] = useState<number | null>(null);
  const view: View = VIEWS.find((one) => one.view === address.get("view"))?.view ?? "buy";
  const { page, progress, answer } = plan;
  const work = progress.data;
  const settled = work !== undefined && work.state !== "working";
  useScreen({
    title: page.data?.name ?? "Plan",
    answer: page.data && settled ? `plan ${work.id}` : undefined,
    busy: page.isPending,
    className: "plan",
    help: HELP,
  });
  if (page.error) return <Failed error={page.error} onRetry={() => void page.refetch()} />;
  if (!page.data) return <div ref={frame} className="skeleton" aria-busy="true" />;
  const { question, currency } = page.data;
  const report = answer?.report;
  const curve = answer?.curve ?? null;
  const budget = dragged ?? question.budget ?? report?.cost ?? 0;
  const step = curve?.steps[stepAt(curve, budget)];
  const refused = plan.put.error ?? plan.begin.error ?? plan.keep.error;
  const shares = { question, onChange: plan.change };
  return (
    <>
      <div className="plan-head" ref={frame}>
        <h1 aria-live="polite" data-said={work?.state ?? ""}>
          {report ? said(report, question.demands.length) : "…"}
        </h1>
        <Going work={work} currency={currency} onStop={plan.stop} />
        <Kept page={page.data} report={report ?? null} ready={settled} keeping={plan.keep} />
      </div>
      {refused && <Refused error={refused} />}
      {work?.why && <p className="plan-broken">{work.why}</p>}
      {curve && curve.steps.length > 0 && question.demands.length > 0 && (
        <div className="sheet plan-curve">
          <MoneyCurve
            curve={curve}
            demands={question.demands.length}
            currency={currency}
            width={Math.max(320, width - 2)}
            budget={budget}
            onBudget={setDragged}
          />
          <p className="plan-step" data-step={step?.met ?? ""}>
            {step && (
              <b>{`With ${money(budget, currency)}: ${step.met} of ${question.demands.length} work${slowly(step.slow)}.`}</b>
            )}{" "}
            {step && step.buys.length > 0
              ? `Bought for ${money(step.cost, currency)}: ${step.buys.map((one) => one.name).join(", ")}.`
              : "Nothing has to be bought for that."}
            {step && step.bound < step.cost && " Not proven to be the least."}{" "}
            {dragged !== null && (
              <Button
                size="small"
                onClick={() => {
                  plan.change({ budget: dragged });
                  setDragged(null);
                }}
              >
                {`Plan within ${money(dragged, currency)}`}
              </Button>
            )}
          </p>
        </div>
      )}
      <Views
        label="Views of the plan"
        views={VIEWS}
        current={view}
        addressOf={(one) => {
          const next = new URLSearchParams(address);
          if (one === "buy") next.delete("view");
          else next.set("view", one);
          return `?${next.toString()}`;
        }}
      />
      {question.demands.length === 0 && view === "buy" && (
        <p className="plan-empty" data-state="empty">
          Nothing is asked yet. <Button onClick={() => change({ view: "asked" })}>Say what must work</Button>
        </p>
      )}
      {view === "buy" && answer && report && (
        <div className="below">
          <div>
            <Shop answer={answer} name={page.data.name} question={question} onChange={plan.change} />
            <LookFor report={report} onPriced={plan.again} />
            <Served report={report} />
          </div>
          <div>
            <Limits {...shares} currency={currency} />
            <Left report={report} curve={curve} />
          </div>
        </div>
      )}
      {view === "asked" && <Asked {...shares} practice={practice} />}
      {view === "native" && <Native question={question} practice={practice} currency={currency} />}
      {view === "rings" && <Variants question={question} practice={practice} />}
      {view === "filters" && <Filters question={question} />}
      <Named key={page.data.name} name={page.data.name} onName={plan.rename} />
      <UndoBar />
    </>
  );
}

function said(report: PlanReport, demands: number): string {
  if (demands === 0) return "Nothing is asked yet.";
  const paid =
    report.cost === 0
      ? "without buying anything"
      : report.cost < 0
        ? `and ${money(-report.cost, report.currency)} come back`
        : `for ${money(report.cost, report.currency)}`;
  const proof =
    report.cost === 0 && report.bought.length === 0
      ? ""
      : report.status === "optimal"
        ? " Nothing cheaper does it."
        : ` Not proven yet: at least ${money(report.bound, report.currency)}.`;
  const met =
    report.met === demands ? (demands === 1 ? "It works" : `All ${demands} work`) : `${report.met} of ${demands} work`;
  return `${met} ${paid}.${proof}${lookFor(report)}`;
}

/** How many rings that nobody lists would do more. */
function lookFor({ look_for: rings }: PlanReport): string {
  if (rings.length === 0) return "";
  const more = new Set(rings.flatMap(({ serves }) => serves.map(({ demand }) => demand))).size;
  return ` ${rings.length === 1 ? "One ring" : `${rings.length} rings`} to look for would make ${more} more work.`;
}

interface GoingProps {
  work: PlanWork | undefined;
  currency: string;
  onStop: () => void;
}

/** How far it has come: the best so far, what nothing can be below; and a way to stop it. */
function Going({ work, currency, onStop }: GoingProps) {
  if (work?.state !== "working") return null;
  const part = work.part === "curve" ? "Money against what works …" : "Looking for the cheapest …";
  return (
    <p className="plan-going" role="status">
      <progress aria-label={part} />
      <span>
        {part}
        {work.best !== null && work.part !== "curve" && ` ${money(work.best, currency)} so far`}
        {work.bound !== null && work.part !== "curve" && `, at least ${money(work.bound, currency)}`}
        {` ${work.seconds.toFixed(0)} s`}
      </span>
      <Button size="small" onClick={onStop}>
        Stop
      </Button>
    </p>
  );
}

function Named({ name, onName }: { name: string; onName: (name: string) => void }) {
  const [typed, setTyped] = useState(name);
  const keep = () => {
    if (typed.trim() !== "" && typed !== name) onName(typed.trim());
  };
  return (
    <p className="plan-named">
      <Input
        aria-label="Name of the plan"
        value={typed}
        maxLength={120}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={keep}
        onPressEnter={keep}
      />
      <Link to="/plan">All plans</Link>
    </p>
  );
}
