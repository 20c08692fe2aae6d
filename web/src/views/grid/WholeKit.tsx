import "./WholeKit.css";

import Button from "antd/es/button";
import type { InputRef } from "antd/es/input/Input";
import { useCallback, useMemo, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";

import type { GridReport } from "../../api/planQueries";
import { useAddress } from "../../app/useAddress";
import { useChange } from "../../app/useChange";
import { useScreen } from "../../app/screen";
import { Failed } from "../../parts/Failed";
import { Printed } from "../../parts/Printed";
import { UndoBar } from "../../parts/UndoBar";
import { useWidth } from "../../parts/useWidth";
import { Compared } from "./Compared";
import { GridDrawing } from "./GridDrawing";
import { HELP } from "./help";
import { OneLens } from "./OneLens";
import { PrintedGrid } from "./PrintedGrid";
import { Stranded } from "./Stranded";
import { Legend, Tools } from "./Tools";
import { SORTINGS, useGrid } from "./useGrid";
import { WhatIf } from "./WhatIf";
import { WhyLine } from "./WhyLine";

/** Every lens on every body at a glance: what works with what is at hand, and what could. */
export default function WholeKit() {
  const [{ practice }] = useAddress();
  const [address, change] = useChange();
  const navigate = useNavigate();
  const search = useRef<InputRef>(null);
  const words = address.get("q") ?? "";
  const sorting = SORTINGS.find(({ value }) => value === address.get("sort"))?.value ?? "mount";
  const mine = address.get("mine") === "1";
  const stranded = address.get("stranded") === "1";
  const shown = { words, sorting, mine, stranded };
  const { query, report, cellOf, lenses, bodies } = useGrid(practice, shown);
  const [shownAnew, setShownAnew] = useState(0);
  const [frame, width] = useWidth<HTMLDivElement>();
  const narrow = width > 0 && width < 720;
  const at = useMemo(
    () => ({
      row: Math.max(
        0,
        lenses.findIndex(({ id }) => id === address.get("lens")),
      ),
      column: Math.max(
        0,
        bodies.findIndex(({ id }) => id === address.get("body")),
      ),
    }),
    [lenses, bodies, address],
  );
  const lens = lenses[at.row];
  const body = bodies[at.column];
  const choose = useCallback(
    (row: number, column: number) => change({ lens: lenses[row]?.id ?? null, body: bodies[column]?.id ?? null }),
    [lenses, bodies, change],
  );
  const showAll = () => {
    change({ q: null, mine: null, stranded: null });
    setShownAnew(shownAnew + 1);
  };
  const open = useCallback(() => {
    if (lens && body) void navigate(`/?lens=${lens.id}&body=${body.id}`);
  }, [lens, body, navigate]);
  useScreen({
    title: "What fits what",
    answer: report && !query.isPlaceholderData ? `grid ${lenses.length} × ${bodies.length}` : undefined,
    busy: query.isPending,
    className: "whole-kit",
    help: HELP,
    keys: {
      "/": () => search.current?.focus(),
      m: () => change({ mine: mine ? null : "1" }),
      s: () => change({ stranded: stranded ? null : "1" }),
    },
  });
  if (query.error) return <Failed error={query.error} onRetry={() => void query.refetch()} />;
  if (!report) return <div ref={frame} className="sheet skeleton" aria-busy="true" />;
  if (report.lenses.length === 0 || report.bodies.length === 0)
    return (
      <div ref={frame} className="message" data-state="empty">
        <h1>Here every lens stands on every body.</h1>
        <p>{report.lenses.length === 0 ? "There is no lens with a mount yet." : "There is no body yet."}</p>
        <p className="message-actions">
          <Link to="/begin">Begin with what you have</Link>
        </p>
      </div>
    );
  return (
    <>
      <div className="grid-head" ref={frame}>
        <h1 aria-live="polite">{said(report)}</h1>
        <Tools key={shownAnew} shown={shown} search={search} practice={practice} onChange={change} />
      </div>
      {lens && body ? (
        narrow ? (
          <OneLens
            lenses={lenses}
            bodies={bodies}
            cellOf={cellOf}
            practice={practice}
            row={at.row}
            onRow={(row) => choose(row, at.column)}
          />
        ) : (
          <>
            <WhyLine lens={lens} body={body} cell={cellOf(lens.id, body.id)} practice={practice} onOpen={open} />
            <GridDrawing
              lenses={lenses}
              bodies={bodies}
              cellOf={cellOf}
              grouped={sorting === "mount"}
              width={width || 1200}
              at={at}
              onChoose={choose}
              onOpen={open}
            />
          </>
        )
      ) : (
        <p className="grid-none" data-state="nothing">
          No lens is shown. <Button onClick={showAll}>Show all</Button>
        </p>
      )}
      <Legend />
      <Stranded lenses={report.lenses} practice={practice} />
      <div className="below grid-below">
        <WhatIf report={report} practice={practice} />
        <Compared report={report} practice={practice} />
      </div>
      <UndoBar />
      <Printed name="grid" usual>
        {() => <PrintedGrid lenses={lenses} bodies={bodies} cellOf={cellOf} said={said(report)} />}
      </Printed>
    </>
  );
}

function said(report: GridReport): string {
  const own = report.lenses.filter(({ at_hand }) => at_hand > 0);
  const lone = own.filter(({ on_hand }) => on_hand === 0);
  const doors = [...report.bodies]
    .filter(({ at_hand }) => at_hand > 0)
    .sort((one, other) => other.on_hand - one.on_hand)[0];
  if (own.length === 0) return `${report.lenses.length} lenses on ${report.bodies.length} bodies; none is yours.`;
  const first =
    lone.length === 0
      ? `All ${own.length} of your lenses work on some body of yours.`
      : `${own.length - lone.length} of your ${own.length} lenses work on some body of yours.`;
  return doors ? `${first} ${doors.name} opens most doors: ${doors.on_hand}.` : first;
}
