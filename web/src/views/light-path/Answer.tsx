import "./Answer.css";

import Button from "antd/es/button";
import { lazy, Suspense, useMemo } from "react";
import { Link } from "react-router";

import type { MatchReport, Route } from "../../api/client";
import { type Chosen, differences } from "../../app/practice";
import { usePractices } from "../../app/Practices";
import type { Address, Change } from "../../app/useAddress";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { fails, sceneOf } from "../../drawing/scene";
import { Sheet } from "../../drawing/Sheet";
import { money, unbroken } from "../../parts/format";
import { Steps } from "../../parts/Steps";
import { CameraFigures } from "./CameraFigures";
import { Card } from "./Card";
import { chainName } from "./chain";
import { ByHand } from "./ByHand";
import { DepthOfField } from "./DepthOfField";
import { Findings } from "./Findings";
import { Functions } from "./Functions";
import { Joints } from "./Joints";
import { Legend } from "./Legend";
import { Folded, WouldNeed } from "./More";
import { RouteList } from "./RouteList";
import { StripFigures } from "./StripFigures";
import type { usePair } from "./usePair";
import { rigPath, viaOf } from "../../parts/rig";
import { addRingLink, unlistedIn } from "../../parts/unlisted";

const Compare = lazy(() => import("./Compare"));
const DistanceRange = lazy(async () => ({ default: (await import("../../parts/DistanceRange")).DistanceRange }));
const KeepRig = lazy(() => import("./KeepRig"));

type Pair = ReturnType<typeof usePair> & { report: MatchReport; route: Route };
type Go = (change: Change, replace?: boolean) => void;

interface Props {
  pair: Pair;
  address: Address;
  go: Go;
  onChoose: (index: number) => void;
  onCompare: (via: string) => void;
  building: boolean;
  onBuild: (building: boolean) => void;
}

/** The route that is looked at, drawn and told; below it the others, and what to do. */
export function Answer(props: Props) {
  const { start } = usePractices();
  const { pair, address, go } = props;
  const { report, route, beside, both } = pair;
  const { practice } = address;
  const scene = useMemo(() => sceneOf(report, route), [report, route]);
  const besideScene = useMemo(() => (both && beside ? sceneOf(both, beside) : null), [both, beside]);
  return (
    <>
      <div className="sheet">
        <Sentence pair={pair} practice={practice} go={go} />
        <Sheet
          subjects={start.subjects}
          scene={scene}
          beside={besideScene}
          units={practice.distances}
          sentence={route.sentence}
        />
        {!(both && beside) && <StripFigures route={route} practice={practice} />}
        <Legend />
      </div>
      {report.gap_mm === null && (
        <Suspense fallback={null}>
          <DistanceRange lens={report.lens} body={report.body} practice={practice} />
        </Suspense>
      )}
      {both && beside && (
        <Suspense fallback={null}>
          <Compare report={both} pair={pair} other={beside} practice={practice} />
        </Suspense>
      )}
      <Card report={report} route={route} usual={!(both && beside)} />
      <div className="below">
        <Routes {...props} />
        <section className="below-camera">
          {!fails(route) && (
            <>
              <CameraFigures report={report} route={route} practice={practice} />
              <Functions report={report} route={route} />
              <Joints report={report} route={route} units={practice.distances} />
              <DepthOfField report={report} route={route} practice={practice} />
            </>
          )}
          <Suspense fallback={null}>
            {report.lens.startsWith("seen..") ? (
              <OnlySeen report={report} />
            ) : (
              <KeepRig report={report} route={route} />
            )}
          </Suspense>
        </section>
      </div>
    </>
  );
}

/** A lens that was looked at in a shop is not in the collection: it can be added. */
function OnlySeen({ report }: { report: MatchReport }) {
  const lens = report.pieces[report.lens];
  const begin = new URLSearchParams({
    item: "new",
    with_name: lens?.name ?? "",
    with_mount: lens?.mount ?? "",
  });
  return (
    <section data-state="only-seen">
      <h2>A lens that is not yours yet</h2>
      <p>What is usual for its mount is assumed of it.</p>
      <p className="message-actions">
        <Link to={`/kit/lenses?${begin.toString()}`}>I bought it: add it</Link>
      </p>
    </section>
  );
}

function Sentence({ pair, practice, go }: { pair: Pair; practice: Chosen; go: Go }) {
  const { report, route, chosen } = pair;
  return (
    <div className="sentence" aria-live="polite">
      <GradeMark grade={route.grade} size={44} />
      <h1>{unbroken(route.sentence)}</h1>
      <p className="sentence-more">
        <span className="grade-word">{gradeTitle(route.grade)}</span>
        <span>{chainName(report, route)}</span>
        <NotListed report={report} route={route} />
        {!fails(route) && <span>{route.becomes}</span>}
        {(pair.isByHand || report.routes.length > 1) && (
          <span>
            {pair.isByHand ? "put together by hand" : `route ${Math.max(chosen, 0) + 1} of ${report.routes.length}`}
          </span>
        )}
      </p>
      {route.grade !== "danger" &&
        report.warnings.map((warning) => (
          <p key={warning} className="warning" role="note">
            <GradeMark grade="danger" size={18} /> {warning}
          </p>
        ))}
      <Changes report={report} />
      <PracticeNote practice={practice} go={go} />
    </div>
  );
}

/** The ring is none of the collection: what to do about that. */
function NotListed({ report, route }: { report: MatchReport; route: Route }) {
  const id = unlistedIn(route.adapters);
  if (id === null) return null;
  const ring = report.pieces[id]?.name ?? id;
  const back = `/?lens=${report.lens}&body=${report.body}`;
  return (
    <span data-state="not-listed">
      {"not listed: "}
      <Link to={addRingLink(id, ring.split(",")[0] ?? ring, back)}>I found one</Link>
    </span>
  );
}

/** What is changed on lens or body before any of this holds. */
function Changes({ report }: { report: MatchReport }) {
  return report.changes.map(({ text, price }) => (
    <p key={text} className="practice-note" data-state="changed">
      {price === null ? text : `${text} ${money(price, report.currency)}.`}
    </p>
  ));
}

function Routes({ pair, address, go, onChoose, onCompare, building, onBuild }: Props) {
  const { report, route, chosen } = pair;
  return (
    <section className="below-routes">
      <h2>
        {report.total === 1
          ? "The only route"
          : report.routes.length === 1
            ? "1 route"
            : `${report.routes.length} routes, best first`}
      </h2>
      <RouteList
        report={report}
        chosen={Math.max(chosen, 0)}
        onChoose={onChoose}
        beside={address.beside}
        onCompare={onCompare}
      />
      <ByHand
        report={report}
        adapters={route.adapters}
        open={building}
        onOpen={onBuild}
        onChange={(adapters) => go({ via: viaOf(adapters) })}
      />
      <Folded
        report={report}
        everything={address.everything}
        onToggle={(everything) => go({ everything, via: null })}
      />
      {report.would_need.length > 0 && (
        <section>
          <h2>What would have to exist</h2>
          <WouldNeed report={report} />
        </section>
      )}
      <Findings route={route} />
      <p className="message-actions">
        <Link to={rigPath({ lens: report.lens, body: report.body, adapters: route.adapters }, "/log/trials")}>
          {route.usable_says.length > 0 ? "Its trials" : "Note how it did"}
        </Link>
      </p>
      {route.details && (
        <Steps
          rig={{ lens: report.lens, body: report.body, adapters: viaOf(route.adapters) }}
          steps={route.details.steps}
          title={route.grade === "danger" ? "Before anything else" : "The card"}
          sheets={[{ sheet: "card", print: "Print the card, one A5 side" }]}
        />
      )}
    </section>
  );
}

/**
 * The choices under which this answer was given, where they are not the usual ones or not the reader's own.
 */
function PracticeNote({ practice, go }: { practice: Chosen; go: Go }) {
  const { choices, usual, own } = usePractices();
  const unusual = differences(practice, usual, choices);
  const foreign = differences(practice, own, choices);
  if (unusual.length === 0 && foreign.length === 0) return null;
  return (
    <p className="practice-note">
      {foreign.length === 0 && <span>{`Judged by ${unusual.join(", ")}.`}</span>}
      {foreign.length > 0 && (
        <>
          <span>{`Judged by the preferences in this address, not by yours: ${foreign.join(", ")}.`}</span>
          <Button size="small" type="link" onClick={() => go({ practice: own }, true)}>
            Use mine
          </Button>
        </>
      )}
    </p>
  );
}
