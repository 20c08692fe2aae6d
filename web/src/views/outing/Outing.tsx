import "./Outing.css";

import { useQueries, useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { movedTo, type OutingPage, type OutingWritten, ProblemError } from "../../api/client";
import { rigsQuery, setUpQuery } from "../../api/queries";
import { useScreen } from "../../app/screen";
import { Failed } from "../../parts/Failed";
import { Moved } from "../../parts/Moved";
import { PrintButton } from "../../parts/Printed";
import { Refused } from "../../parts/Refused";
import { PrintedRigCards } from "../../parts/RigCard";
import { UndoBar } from "../../parts/UndoBar";
import { HELP } from "./help";
import { Lanes } from "./Lanes";
import { contested, saidOf } from "./merge";
import { Packing } from "./Packing";
import { Sharing } from "./Sharing";
import { Shots } from "./Shots";
import { useOuting } from "./useOuting";
import { rigPath, viaOf } from "../../parts/rig";
import { Plain } from "../../parts/Plain";

/** Several rigs on several bodies: what is packed, what is shared, and the order that swaps least. */
export default function Outing() {
  const { id = "" } = useParams();
  const { page, error, refused, wanted, again, change, insist } = useOuting(id);
  const rigs = useQuery(rigsQuery);
  const [least, setLeast] = useState(false);
  const title = page?.outing.name ?? "Outing";
  const takeOrder = () => {
    if (!page) return;
    const { numbers, least: best } = page.report;
    const order = best.steps.map((step) => numbers[step.shot] ?? 0);
    const gone = page.outing.shots.map((_, number) => number).filter((one) => !numbers.includes(one));
    change({ shots: [...order, ...gone].flatMap((number) => page.outing.shots[number] ?? []) });
    setLeast(false);
  };
  const there = page !== undefined && rigs.isSuccess;
  useScreen({
    title,
    answer: there ? `outing ${page.version}` : undefined,
    busy: !there,
    className: "outing",
    help: HELP,
    keys: { o: takeOrder },
  });
  const failure = error ?? rigs.error;
  if (failure) return <Failed error={failure} onRetry={again} />;
  if (!there) return <div className="sheet skeleton" aria-busy="true" />;
  const { report, outing } = page;
  const shown = least ? report.least : report.given;
  return (
    <>
      <div className="sheet">
        <div className="screen-head" aria-live="polite">
          <h1>{report.says}</h1>
        </div>
        {shown.steps.length > 0 && <Lanes report={report} order={shown} />}
        {report.least.swaps < report.given.swaps && (
          <div className="toggles outing-orders" role="group" aria-label="Order of the shots">
            <Plain className="filter-toggle" aria-pressed={!least} onClick={() => setLeast(false)}>
              {`as planned: ${report.given.swaps} swaps`}
            </Plain>
            <Plain className="filter-toggle" aria-pressed={least} onClick={() => setLeast(true)}>
              {`fewest: ${report.least.swaps} swaps${report.least.proven ? "" : ", as far as was tried"}`}
            </Plain>
            <Button onClick={takeOrder}>Take this order</Button>
          </div>
        )}
      </div>
      {refused && <NotKept refused={refused} {...{ outing, wanted, again, insist }} />}
      <div className="below">
        <div>
          <Named key={`${page.version}`} page={page} onChange={change} />
          <Shots outing={outing} report={report} rigs={rigs.data.rigs} onChange={change} />
          <Packing outing={outing} report={report} onChange={change} />
        </div>
        <div>
          <Sharing report={report} />
          <Cards page={page} />
          <UndoBar />
        </div>
      </div>
    </>
  );
}

interface NotKeptProps {
  refused: Error;
  outing: OutingWritten;
  wanted: Partial<OutingWritten> | undefined;
  again: () => void;
  insist: (changed: Partial<OutingWritten>) => Promise<void>;
}

/** What was not written, and both sides where another window was first. */
function NotKept({ refused, outing, wanted, again, insist }: NotKeptProps) {
  const theirs = movedTo(refused)?.current as OutingWritten | undefined;
  if (!theirs || !wanted || !(refused instanceof ProblemError)) return <Refused error={refused} />;
  const fields = contested(outing, theirs, wanted);
  return (
    <Moved
      error={refused}
      sides={fields.map((field) => ({
        name: FIELD_NAMES[field],
        theirs: saidOf(field, theirs),
        mine: saidOf(field, wanted),
      }))}
      onTheirs={again}
      onMine={() => void insist(wanted)}
    />
  );
}

const FIELD_NAMES: Record<keyof OutingWritten, string> = {
  name: "Name",
  day: "Day",
  shots: "Shots",
  spare: "Spare pieces",
  packed: "Packed",
};

interface NamedProps {
  page: OutingPage;
  onChange: (changed: { name?: string; day?: string | null }) => void;
}

function Named({ page, onChange }: NamedProps) {
  const { name, day } = page.outing;
  const [typed, setTyped] = useState(name);
  const keep = () => {
    if (typed.trim() !== "" && typed !== name) onChange({ name: typed.trim() });
  };
  return (
    <p className="outing-named">
      <Input
        aria-label="Name of the outing"
        value={typed}
        maxLength={120}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={keep}
        onPressEnter={keep}
      />
      <Input
        aria-label="Day"
        type="date"
        value={day ?? ""}
        onChange={(event) => onChange({ day: event.target.value || null })}
      />
    </p>
  );
}

/** The cards of its rigs, several on a side; asked for when they are to be printed. */
function Cards({ page }: { page: OutingPage }) {
  const navigate = useNavigate();
  const rigs = new Map(
    page.report.shots.flatMap((shot) =>
      shot.lens !== null && shot.body !== null
        ? [[shot.rig, { ...shot, lens: shot.lens, body: shot.body }] as const]
        : [],
    ),
  );
  const found = useQueries({
    queries: [...rigs.values()].map(({ lens, body, adapters, accessories }) =>
      setUpQuery({ lens, body, via: viaOf(adapters), accessories: accessories.join(",") }),
    ),
  });
  const names = [...rigs.values()].map(({ rig_name }) => rig_name);
  const reports = found.flatMap(({ data }, index) => (data ? [{ report: data, name: names[index] ?? "" }] : []));
  if (rigs.size === 0) return null;
  return (
    <section>
      <h2>Cards to take along</h2>
      <ul className="held">
        {[...rigs.values()].map(({ rig, rig_name, name, lens, body, adapters }) => (
          <li key={rig}>
            <span>{rig_name}</span>
            <span className="held-tools">
              <Plain className="unfold" onClick={() => void navigate(`/setup/${rig}`)}>
                set it up
              </Plain>
              <Link to={`${rigPath({ lens, body, adapters }, "/log")}&shot=${encodeURIComponent(name)}`}>log it</Link>
            </span>
          </li>
        ))}
      </ul>
      {reports.length === rigs.size && <PrintButton sheet="cards-a4">Print all cards on A4</PrintButton>}
      <PrintedRigCards reports={reports} />
    </section>
  );
}
