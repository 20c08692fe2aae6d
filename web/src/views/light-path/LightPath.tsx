import "./LightPath.css";

import Button from "antd/es/button";
import { lazy, type ReactNode, Suspense, useCallback, useEffect, useMemo, useState } from "react";
import { useNavigate } from "react-router";

import { ProblemError } from "../../api/client";
import type { Chosen, PracticeKey } from "../../app/practice";
import { withPair } from "../../app/navigation";
import { usePractices } from "../../app/Practices";
import { useScreen } from "../../app/screen";
import { useAddress } from "../../app/useAddress";
import { Failed } from "../../parts/Failed";
import { WorkingContext } from "../../parts/Figure";
import { Opened } from "../../parts/Opened";
import { usePairPickers } from "../../parts/usePairPickers";
import { Answer } from "./Answer";
import { HELP } from "./help";
import { answerKey, usePair } from "./usePair";
import { useRouteKeys } from "./useRouteKeys";
import { viaOf } from "../../parts/rig";

// What most who look at a pair do without.
const Nothing = lazy(() => import("./Nothing"));
const OneEnd = lazy(() => import("./OneEnd"));
const PracticePanel = lazy(() => import("./PracticePanel"));
const WorkingPanel = lazy(() => import("./WorkingPanel"));
const EmptyCollection = lazy(async () => ({ default: (await import("./States")).EmptyCollection }));
const UnknownId = lazy(async () => ({ default: (await import("./States")).UnknownId }));

const NO_NAMES = {};

/** The light path from the subject to the sensor: the pair is the page. */
export default function LightPath() {
  const [address, go] = useAddress();
  const practices = usePractices();
  const { start, own, usual, keep } = practices;
  const [panel, setPanel] = useState(false);
  const [quantity, setQuantity] = useState<string | null>(null);
  const [building, setBuilding] = useState(false);
  const pair = usePair(address);
  const { question, report, route, settled } = pair;

  // A bare address opens with a telling pair, judged by the reader's own practice.
  const opening = address.fresh ? start.pair : null;
  useEffect(() => {
    if (opening) go({ lens: opening.lens, body: opening.body, practice: own }, true);
  }, [opening, own, go]);

  const setPractice = useCallback(
    (key: PracticeKey, value: string) => {
      const changed = { [key]: value } as Partial<Chosen>;
      go({ practice: { ...address.practice, ...changed } }, true);
      keep({ ...own, ...changed });
    },
    [address.practice, go, own, keep],
  );
  const closePractice = useCallback(() => setPanel(false), []);
  const navigate = useNavigate();
  const pickEnd = useCallback((kind: "lens" | "body", id: string | null) => go({ [kind]: id, via: null }), [go]);
  const pickers = usePairPickers(address.lens, address.body, report?.names ?? NO_NAMES, pickEnd);
  const { lens, body } = pickers;
  const failure = pair.error ?? pickers.error;
  const { keys, choose, compare } = useRouteKeys(address, go, pair);
  useScreen({
    title: titleOf(lens?.name, body?.name),
    answer: settled ? answerKey(address, usual) : undefined,
    busy: !settled && question !== null && !failure,
    className: pair.all.isPlaceholderData ? "stale" : "",
    help: HELP,
    keys: {
      ...keys,
      ...pickers.keys,
      p: () => setPanel(true),
      w: () => setQuantity("register_error_mm"),
      e: () => setBuilding(!building),
      m: () => void navigate("/mounts"),
      f: () => void navigate(withPair("/frame", window.location.search, Object.keys(usual))),
      n: () => document.querySelector<HTMLElement>(".parts-button")?.focus(),
      Escape: () => {
        if (!panel && quantity === null && address.beside !== null) go({ beside: null });
        setPanel(false);
        setQuantity(null);
      },
    },
    pair: pickers.pair,
    tools: useMemo(() => <PracticeButton onOpen={() => setPanel(true)} />, []),
  });

  const build = { building, onBuild: setBuilding };
  const pick = (missing: "lens" | "body") => pickers.focus(missing);
  let content: ReactNode = <Skeleton />;
  if (failure instanceof ProblemError && failure.problem.type === "unknown_id") {
    content = <UnknownId error={failure} via={address.via} go={go} />;
  } else if (failure) {
    content = <Failed error={failure} onRetry={() => void pair.all.refetch()} />;
  } else if (start.lenses === 0 && start.bodies === 0) {
    content = <EmptyCollection />;
  } else if (question === null && !opening) {
    content = <OneEnd address={address} go={go} onPick={pick} />;
  } else if (report && !route) {
    content = <Nothing report={report} address={address} go={go} {...build} />;
  } else if (report && route) {
    content = (
      <Answer
        pair={{ ...pair, report, route }}
        address={address}
        go={go}
        onChoose={choose}
        onCompare={compare}
        {...build}
      />
    );
  }
  return (
    <WorkingContext value={setQuantity}>
      <Suspense fallback={<Skeleton />}>{content}</Suspense>
      <Opened when={panel}>
        <PracticePanel open={panel} practice={address.practice} onChange={setPractice} onClose={closePractice} />
      </Opened>
      <Opened when={quantity !== null && question !== null && route !== undefined}>
        {question && route && (
          <WorkingPanel
            question={{ ...question, via: viaOf(route.adapters) }}
            quantity={quantity}
            onClose={() => setQuantity(null)}
          />
        )}
      </Opened>
    </WorkingContext>
  );
}

function titleOf(lens: string | undefined, body: string | undefined): string {
  if (lens !== undefined && body !== undefined) return `${lens} on ${body}`;
  if (lens !== undefined) return `What ${lens} fits`;
  return body === undefined ? "" : `What goes on ${body}`;
}

function PracticeButton({ onOpen }: { onOpen: () => void }) {
  return (
    <Button type="text" onClick={onOpen}>
      Preferences
    </Button>
  );
}

/** Shown only when an answer is late: nothing flickers under 200 ms. */
function Skeleton() {
  return (
    <div className="skeleton" aria-hidden="true">
      <div className="skeleton-sentence" />
      <div className="skeleton-sheet" />
    </div>
  );
}
