import "./RouteList.css";

import { memo } from "react";

import type { MatchReport, Route } from "../../api/client";
import { lensFront, sceneOf } from "../../drawing/scene";
import { GRADE_WORDS, GradeMark } from "../../drawing/GradeMark";
import { Stack } from "../../drawing/Stack";
import { money, signedMm } from "../../parts/format";
import { chainName } from "./chain";

interface Props {
  report: MatchReport;
  chosen: number;
  onChoose: (index: number) => void;
  /** The chain it is compared with. */
  beside: string | null;
  onCompare: (via: string) => void;
}

const cost = (report: MatchReport, route: Route) => {
  if (route.owned) return route.adapters.length ? "at hand" : "";
  return route.price === null ? "price unknown" : money(route.price, report.currency);
};

/** Pieces that could stand in a route's place without changing anything but the price. */
const alternatives = (report: MatchReport, route: Route) =>
  route.interchangeable.flatMap((ids, place) =>
    ids.filter((id) => id !== route.adapters[place]).map((id) => report.pieces[id]?.name ?? id),
  );

/** The routes as miniature stacks at one scale, best first. */
export const RouteList = memo(function RouteList({ report, chosen, onChoose, beside, onCompare }: Props) {
  const longest = Math.max(...report.routes.map((route) => lensFront(route.section) ?? 60));
  const scale = Math.min(1.1, (WIDTH - 14) / longest);
  return (
    <div className="routes" role="radiogroup" aria-label="Routes, best first">
      {report.routes.map((route, index) => {
        const via = route.adapters.join(",");
        return (
          <Row
            key={via}
            report={report}
            route={route}
            via={via}
            index={index}
            scale={scale}
            selected={index === chosen}
            compared={via === beside}
            onChoose={onChoose}
            onCompare={onCompare}
          />
        );
      })}
    </div>
  );
});

/** A grade that depends on what nobody knows says so. */
const gradeWords = (route: Route) => (route.surely ? GRADE_WORDS[route.grade] : "Not known");

/** Beside the right ring, the wrong ones that could be taken for it. */
function NotThese({ report }: { report: MatchReport }) {
  const wrong = report.routes.filter((route) => route.adapters.length === 1 && route.wrong);
  if (wrong.length === 0) return null;
  return (
    <span className="route-gives not-these">
      {"not "}
      {wrong.slice(0, 3).map((route, index) => (
        <span key={route.adapters[0]}>
          {index > 0 && ", nor "}
          <s>{chainName(report, route)}</s>
          {`: same thread, ${signedMm(route.register_error_mm)} mm off`}
        </span>
      ))}
    </span>
  );
}

const WIDTH = 132;

interface RowProps {
  report: MatchReport;
  route: Route;
  via: string;
  index: number;
  scale: number;
  selected: boolean;
  compared: boolean;
  onChoose: (index: number) => void;
  onCompare: (via: string) => void;
}

// Moving through the routes redraws the two rows it touches, not all of them.
const Row = memo(function Row({
  report,
  route,
  via,
  index,
  scale,
  selected,
  compared,
  onChoose,
  onCompare,
}: RowProps) {
  const { wrong } = route;
  return (
    <div className={`route-row ${compared ? "beside" : ""}`}>
      <button
        type="button"
        role="radio"
        aria-checked={selected}
        tabIndex={selected ? 0 : -1}
        className={`route ${selected ? "selected" : ""} ${wrong ? "wrong" : ""}`}
        data-via={via}
        onClick={() => onChoose(index)}
        onKeyDown={(event) => {
          const step = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
          if (step === undefined) return;
          event.preventDefault();
          const count = report.routes.length;
          const next = (index + step + count) % count;
          onChoose(next);
          const group = event.currentTarget.closest("[role=radiogroup]");
          group?.querySelectorAll<HTMLButtonElement>("[role=radio]")[next]?.focus();
        }}
      >
        <Stack scene={sceneOf(report, route)} scale={scale} width={WIDTH} height={36} />
        <GradeMark grade={route.grade} size={22} />
        <span className="route-name">
          <span>{chainName(report, route)}</span>
          {index === 0 && !wrong && <NotThese report={report} />}
          {alternatives(report, route).length > 0 && (
            <span className="route-gives">{`or ${alternatives(report, route).join(", ")}`}</span>
          )}
          <span className="route-gives">
            {wrong
              ? `The wrong one: ${wrong}`
              : [gradeWords(route), route.gives_up].filter((one) => one && one !== "nothing").join(": ")}
          </span>
        </span>
        <span className="route-error">{signedMm(route.register_error_mm)}</span>
        <span className="route-cost">{cost(report, route)}</span>
      </button>
      {!selected && (
        <button type="button" className="compare-with" aria-pressed={compared} onClick={() => onCompare(via)}>
          {compared ? "compared" : "compare"}
          <span className="unseen">{` with ${chainName(report, route)}`}</span>
        </button>
      )}
    </div>
  );
});
