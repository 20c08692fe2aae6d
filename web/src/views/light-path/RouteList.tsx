import "./RouteList.css";

import { memo, useMemo, useState } from "react";
import { flushSync } from "react-dom";

import type { MatchReport, RouteLine } from "../../api/client";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { type Small, Stack } from "../../drawing/Stack";
import { money, signedMm, signedLength } from "../../parts/format";
import { chainName } from "./chain";
import { GROUP_NAMES, groupsOf, orderOf, type RouteGroup } from "./groups";
import { viaOf } from "../../parts/rig";
import { useWidth } from "../../parts/useWidth";
import { unlistedIn } from "../../parts/unlisted";
import { Plain } from "../../parts/Plain";

interface Props {
  report: MatchReport;
  chosen: number;
  onChoose: (index: number) => void;
  /** The chain it is compared with. */
  beside: string | null;
  onCompare: (via: string) => void;
}

const cost = (report: MatchReport, route: RouteLine) => {
  if (unlistedIn(route.adapters)) return "not listed";
  if (route.owned) return route.adapters.length ? "owned" : "";
  return route.price === null ? "price unknown" : money(route.price, report.currency);
};

/** The miniature of a route; a body is the same in all of them. */
function smallOf(report: MatchReport, { adapters, drawn: [lens, ...boxes] }: RouteLine): Small {
  const at = (id: string, place: number) => ({
    box: boxes[place] ?? ([0, 0, 0] as const),
    owned: report.owned.includes(id),
    glass: report.with_glass.includes(id),
  });
  return {
    bodySeat: report.open?.section.body?.seat_mm ?? 0,
    lens: lens ?? null,
    adapters: adapters.map(at),
  };
}

/** Pieces that could stand in a route's place without changing anything but the price. */
const alternatives = (report: MatchReport, route: RouteLine) =>
  route.interchangeable.flatMap((ids, place) =>
    ids.filter((id) => id !== route.adapters[place]).map((id) => report.names[id] ?? id),
  );

/** The routes as miniature stacks at one scale, by what they are for, best first. */
export const RouteList = memo(function RouteList(props: Props) {
  const { report } = props;
  const longest = Math.max(...report.routes.map(({ drawn: [lens] }) => lens?.[1] ?? 60));
  const scale = Math.min(1.1, (WIDTH - 14) / longest);
  const [box, width] = useWidth<HTMLDivElement>();
  const [whole, setWhole] = useState("");
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set());
  const pair = `${report.lens} ${report.body}`;
  const few = width > 0 && width < NARROW && whole !== pair && report.routes.length > BEST;
  const groups = useMemo(() => groupsOf(report.routes), [report.routes])
    .map((one) =>
      few ? { ...one, places: one.places.filter((place) => place < BEST || place === props.chosen) } : one,
    )
    .filter(({ places }) => places.length > 0);
  const toggle = (group: string) => {
    const key = `${pair} ${group}`;
    setOpened((before) => {
      const after = new Set(before);
      if (!after.delete(key)) after.add(key);
      return after;
    });
  };
  return (
    <div ref={box} className="routes" role="radiogroup" aria-label="Routes, best first">
      {groups.map((one) => (
        <Group
          key={one.group}
          {...props}
          one={one}
          alone={groups.length === 1}
          scale={scale}
          open={opened.has(`${pair} ${one.group}`)}
          onToggle={() => toggle(one.group)}
        />
      ))}
      {few && (
        <Plain className="unfold" data-action="all-routes" onClick={() => setWhole(pair)}>
          {`All ${report.routes.length} routes`}
        </Plain>
      )}
    </div>
  );
});

/** On a phone the best of all stand there, the rest on request. */
const [BEST, NARROW] = [10, 600];
/** So many of a group stand there before it is opened. */
const SHOWN = 3;

interface GroupProps extends Props {
  one: RouteGroup;
  alone: boolean;
  scale: number;
  open: boolean;
  onToggle: () => void;
}

function Group({ report, chosen, onChoose, beside, onCompare, one, alone, scale, open, onToggle }: GroupProps) {
  const { group, places } = one;
  // The one that is looked at is never hidden, nor a ring that could be taken for the right one.
  const shown = open
    ? places
    : places.filter((place, nth) => nth < SHOWN || place === chosen || report.routes[place]?.wrong);
  const hidden = places.length - shown.length;
  return (
    <div className="route-group" role="group" aria-label={GROUP_NAMES[group]} data-group={group}>
      {!alone && <h3>{GROUP_NAMES[group]}</h3>}
      {shown.map((index) => {
        const route = report.routes[index];
        if (!route) return null;
        const via = viaOf(route.adapters);
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
      {(hidden > 0 || (open && places.length > SHOWN)) && (
        <Plain className="unfold" aria-expanded={open} onClick={onToggle}>
          {open ? "Show fewer" : `${hidden} more`}
          <span className="unseen">{`: ${GROUP_NAMES[group]}`}</span>
        </Plain>
      )}
    </div>
  );
}

/** A grade that depends on what nobody knows says so. */
const gradeWords = (route: RouteLine) => (route.surely ? gradeTitle(route.grade) : "Not known");

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
          {`: same thread, ${signedLength(route.register_error_mm)} off`}
        </span>
      ))}
    </span>
  );
}

const WIDTH = 132;

interface RowProps {
  report: MatchReport;
  route: RouteLine;
  via: string;
  index: number;
  scale: number;
  selected: boolean;
  compared: boolean;
  onChoose: (index: number) => void;
  onCompare: (via: string) => void;
}

// Moving through the routes redraws the two rows it touches, not all of them.
const Row = memo(function Row({ report, route, via, index, scale, selected, compared, onChoose, onCompare }: RowProps) {
  const { wrong } = route;
  return (
    <div className={`route-row ${compared ? "beside" : ""}`}>
      <Plain
        role="radio"
        aria-checked={selected}
        tabIndex={selected ? 0 : -1}
        className={`route ${selected ? "selected" : ""} ${wrong ? "wrong" : ""}`}
        data-via={via}
        data-place={index}
        onClick={() => onChoose(index)}
        onKeyDown={(event) => {
          const step = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
          if (step === undefined) return;
          event.preventDefault();
          const order = orderOf(report);
          const next = order[(order.indexOf(index) + step + order.length) % order.length] ?? 0;
          const group = event.currentTarget.closest("[role=radiogroup]");
          flushSync(() => onChoose(next));
          group?.querySelector<HTMLButtonElement>(`[role=radio][data-place="${next}"]`)?.focus();
        }}
      >
        <Stack small={smallOf(report, route)} scale={scale} width={WIDTH} height={36} />
        <GradeMark grade={route.grade} size={22} />
        <span className="route-name">
          <span>{chainName(report, route)}</span>
          {index === 0 && !wrong && <NotThese report={report} />}
          {!wrong && <span className="route-purpose">{route.purpose}</span>}
          {alternatives(report, route).length > 0 && (
            <span className="route-gives">{`or ${alternatives(report, route).join(", ")}`}</span>
          )}
          {(wrong || index > 0) && (
            <span className="route-gives">
              {wrong
                ? `The wrong one: ${wrong}`
                : [gradeWords(route), route.gives_up].filter((one) => one && one !== "nothing").join(": ")}
            </span>
          )}
        </span>
        <span className="route-error">
          {route.register_error_mm === null ? "?" : signedMm(route.register_error_mm)}
        </span>
        <span className="route-cost">{cost(report, route)}</span>
      </Plain>
      {!selected && (
        <Plain className="compare-with" aria-pressed={compared} onClick={() => onCompare(via)}>
          {compared ? "compared" : "compare"}
          <span className="unseen">{` with ${chainName(report, route)}`}</span>
        </Plain>
      )}
    </div>
  );
});
