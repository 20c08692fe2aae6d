import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import type { RefSelectProps } from "antd/es/select";
import { useNavigate } from "react-router";
import { type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from "react";

import { client, type MatchReport, ProblemError, type Start, unwrap } from "../../api/client";
import { fitsQuery, itemQuery, matchQuery, startQuery } from "../../api/queries";
import { type Chosen, DEFAULT_PRACTICE, differences, type PracticeKey } from "../../app/practice";
import { useAddress } from "../../app/useAddress";
import { useKeys } from "../../app/useKeys";
import { GRADE_WORDS, GradeMark } from "../../drawing/GradeMark";
import { sceneApart, sceneOf, sceneOfOne } from "../../drawing/scene";
import { WorkingContext } from "../../parts/Figure";
import { unbroken } from "../../parts/format";
import { Top } from "../../parts/Top";
import { Card } from "./Card";
import { ChainEditor } from "./ChainEditor";
import { Compare } from "./Compare";
import { CameraFigures, DepthOfField, Findings, Functions, Joints, Steps, StripFigures } from "./Facts";
import { Folded, WouldNeed } from "./More";
import { HelpPanel } from "./HelpPanel";
import { KeepRig } from "./KeepRig";
import { Picker } from "./Picker";
import { PracticePanel } from "./PracticePanel";
import { chainName, RouteList } from "./RouteList";
import { Sheet } from "./Sheet";
import { EmptyCollection, Failed, NoPair, UnknownId } from "./States";
import { Wall } from "./Wall";
import { WorkingPanel } from "./WorkingPanel";

interface Props {
  dark: boolean;
  onToggleTheme: () => void;
}

type Panel = "practice" | "help" | null;

export default function LightPath({ dark, onToggleTheme }: Props) {
  const [address, go] = useAddress();
  const navigate = useNavigate();
  const start = useQuery(startQuery);
  const own = useOwnPractice(start.data);
  const [panel, setPanel] = useState<Panel>(null);
  const [quantity, setQuantity] = useState<string | null>(null);
  const [building, setBuilding] = useState(false);
  // The panel is there from the first number that was opened on.
  const [asked, setAsked] = useState(false);
  if (quantity !== null && !asked) setAsked(true);
  const lensPicker = useRef<RefSelectProps>(null);
  const bodyPicker = useRef<RefSelectProps>(null);

  // A bare address opens with a telling pair, judged by the reader's own practice.
  const pair = start.data?.pair;
  useEffect(() => {
    if (address.fresh && pair && own.practice) {
      go({ lens: pair.lens, body: pair.body, practice: own.practice }, true);
    }
  }, [address.fresh, pair, own.practice, go]);

  const question =
    address.lens !== null && address.body !== null
      ? { lens: address.lens, body: address.body, practice: address.practice, everything: address.everything }
      : null;
  const all = useQuery({
    ...matchQuery(question ?? { lens: "", body: "", practice: address.practice }),
    enabled: question !== null,
    // The last drawing stays until the next one is there.
    placeholderData: keepPreviousData,
  });
  // A chain that is none of the found ones was put together by hand: it is judged just the same.
  const known = all.data?.routes.findIndex((route) => route.adapters.join(",") === address.via) ?? -1;
  const byHand = useQuery({
    ...matchQuery({ ...(question ?? { lens: "", body: "", practice: address.practice }), via: address.via ?? "" }),
    enabled: question !== null && address.via !== null && all.isSuccess && !all.isPlaceholderData && known < 0,
  });
  const report = useMemo(() => merged(all.data, known < 0 && address.via !== null ? byHand.data : undefined), [all.data, known, address.via, byHand.data]);
  const chosen = address.via === null ? 0 : known >= 0 ? known : report !== all.data ? 0 : -1;
  const route = report?.routes[Math.max(chosen, 0)];
  const settled =
    question !== null && all.isSuccess && !all.isPlaceholderData && (address.via === null || known >= 0 || byHand.isSuccess);

  // The route it is compared with, wherever it comes from.
  const listed = all.data?.routes.find((one) => one.adapters.join(",") === address.beside);
  const compared = useQuery({
    ...matchQuery({ ...(question ?? { lens: "", body: "", practice: address.practice }), via: address.beside ?? "" }),
    enabled: question !== null && address.beside !== null && all.isSuccess && !all.isPlaceholderData && !listed,
  });
  const beside = address.beside === null || !report ? undefined : (listed ?? compared.data?.routes[0]);
  const scene = useMemo(() => (report && route ? sceneOf(report, route) : null), [report, route]);
  const both = useMemo(() => (report ? { ...report, pieces: { ...compared.data?.pieces, ...report.pieces } } : undefined), [report, compared.data]);
  const besideScene = useMemo(() => (both && beside ? sceneOf(both, beside) : null), [both, beside]);

  const pickLens = useCallback((id: string | null) => { go({ lens: id, via: null }); }, [go]);
  const pickBody = useCallback((id: string | null) => { go({ body: id, via: null }); }, [go]);
  const openHelp = useCallback(() => { setPanel("help"); }, []);
  const openPractice = useCallback(() => { setPanel("practice"); }, []);
  const closePanel = useCallback(() => { setPanel(null); }, []);
  const choose = useCallback(
    (index: number) => {
      const next = report?.routes[index];
      if (next) go({ via: next.adapters.join(",") }, true);
    },
    [report, go],
  );
  const compare = useCallback(
    (via: string) => {
      go({ beside: address.beside === via ? null : via }, true);
    },
    [address.beside, go],
  );
  const compareNow = () => {
    if (address.beside !== null) go({ beside: null }, true);
    else if (report && route) {
      const next = report.routes[chosen > 0 ? 0 : 1];
      if (next) go({ beside: next.adapters.join(",") }, true);
    }
  };
  const move = (step: number) => {
    if (!report) return;
    const next = Math.min(Math.max(Math.max(chosen, 0) + step, 0), report.routes.length - 1);
    choose(next);
  };
  useKeys({
    l: () => lensPicker.current?.focus(),
    b: () => bodyPicker.current?.focus(),
    p: () => { setPanel("practice"); },
    d: onToggleTheme,
    w: () => { setQuantity("register_error_mm"); },
    "?": () => { setPanel("help"); },
    ArrowDown: () => { move(1); },
    ArrowUp: () => { move(-1); },
    Home: () => { choose(0); },
    c: () => { compareNow(); },
    u: () => { go({ everything: !address.everything, via: null }, true); },
    e: () => { setBuilding(!building); },
    k: () => { window.print(); },
    m: () => { void navigate("/mounts"); },
    Escape: () => {
      if (panel === null && quantity === null && address.beside !== null) go({ beside: null }, true);
      setPanel(null);
      setQuantity(null);
    },
  });

  const { practice: ownPractice, keep } = own;
  const setPractice = useCallback(
    (key: PracticeKey, value: string) => {
      const changed = { [key]: value } as Partial<Chosen>;
      go({ practice: { ...address.practice, ...changed } }, true);
      if (ownPractice) keep({ ...ownPractice, ...changed });
    },
    [address.practice, go, ownPractice, keep],
  );

  const end = address.lens !== null ? { lens: address.lens } : { body: address.body ?? "" };
  const oneEnd = useQuery({ ...fitsQuery(end, address.practice), enabled: question === null && (address.lens ?? address.body) !== null });
  const lens = useNamed("lens", address.lens, report);
  const body = useNamed("body", address.body, report);
  const failure = all.error ?? byHand.error ?? start.error ?? lens.error ?? body.error;
  let content: ReactNode = <Skeleton />;
  if (failure instanceof ProblemError && failure.problem.status === 404) {
    content = <UnknownId error={failure} via={address.via} go={go} />;
  } else if (failure) {
    content = (
      <Failed
        error={failure}
        onRetry={() => {
          void start.refetch();
          if (question) void all.refetch();
        }}
      />
    );
  } else if (start.data?.lenses === 0 && start.data.bodies === 0) {
    content = <EmptyCollection />;
  } else if (start.isSuccess && question === null && !(address.fresh && pair)) {
    const missing = address.lens === null ? (address.body === null ? "pair" : "lens") : "body";
    content = (
      <>
        <NoPair
          missing={missing}
          drawing={oneEnd.data ? <Sheet scene={sceneOfOne(oneEnd.data)} units={address.practice.distances} sentence="" /> : null}
          onPick={() => {
            (missing === "body" ? bodyPicker : lensPicker).current?.focus();
          }}
        />
        {address.lens !== null && <Wall end={{ lens: address.lens }} practice={address.practice} onPick={(id) => { go({ body: id, via: null }); }} />}
        {address.body !== null && <Wall end={{ body: address.body }} practice={address.practice} onPick={(id) => { go({ lens: id, via: null }); }} />}
      </>
    );
  } else if (report && !route) {
    content = (
      <>
        <div className="sheet" data-state="nothing-fits">
          <div className="sentence" aria-live="polite">
            <GradeMark grade="none" size={44} />
            <h1>{unbroken(report.sentence)}</h1>
          </div>
          <Sheet scene={sceneApart(report)} units={address.practice.distances} sentence={report.sentence} />
        </div>
        <div className="below">
          <section className="below-routes">
            <h2>What would have to exist</h2>
            <WouldNeed needs={report.would_need} />
          </section>
          <section className="below-camera">
            <h2>Or by hand</h2>
            <ChainEditor report={report} adapters={[]} open={building} onOpen={setBuilding} onChange={(adapters) => { go({ via: adapters.join(",") }); }} />
          </section>
        </div>
      </>
    );
  } else if (report && route) {
    content = (
      <>
        <div className="sheet">
          <div className="sentence" aria-live="polite">
            <GradeMark grade={route.grade} size={44} />
            <h1>{unbroken(route.sentence)}</h1>
            <p className="sentence-more">
              <span className="grade-word">{GRADE_WORDS[route.grade]}</span>
              <span>{chainName(report, route)}</span>
              <span>{chosen < 0 || known < 0 && address.via !== null ? "put together by hand" : `route ${Math.max(chosen, 0) + 1} of ${report.routes.length}`}</span>
            </p>
            {route.grade !== "danger" &&
              report.warnings.map((warning) => (
                <p key={warning} className="warning" role="note">
                  <GradeMark grade="danger" size={18} /> {warning}
                </p>
              ))}
            <PracticeNote
              practice={address.practice}
              own={own.practice}
              onMine={() => {
                if (own.practice) go({ practice: own.practice }, true);
              }}
            />
          </div>
          {scene && <Sheet scene={scene} beside={besideScene} units={address.practice.distances} sentence={route.sentence} />}
          <StripFigures report={report} route={route} practice={address.practice} />
        </div>
        {both && beside && <Compare report={both} one={route} other={beside} practice={address.practice} />}
        <Card report={report} route={route} />
        <div className="below">
          <section className="below-routes">
            <h2>{report.total === 1 ? "The only route" : `${report.routes.length} routes, best first`}</h2>
            <RouteList report={report} chosen={Math.max(chosen, 0)} onChoose={choose} beside={address.beside} onCompare={compare} />
            <ChainEditor report={report} adapters={route.adapters} open={building} onOpen={setBuilding} onChange={(adapters) => { go({ via: adapters.join(",") }); }} />
            <Folded report={report} everything={address.everything} onToggle={(everything) => { go({ everything, via: null }, true); }} />
            {report.would_need.length > 0 && (
              <section>
                <h2>What would have to exist</h2>
                <WouldNeed needs={report.would_need} />
              </section>
            )}
            <Findings route={route} />
            <Steps report={report} route={route} />
          </section>
          <section className="below-camera">
            <CameraFigures report={report} route={route} practice={address.practice} />
            <Functions report={report} route={route} />
            <Joints report={report} route={route} units={address.practice.distances} />
            <DepthOfField route={route} practice={address.practice} />
            <KeepRig report={report} route={route} />
          </section>
        </div>
      </>
    );
  }

  const header = useMemo(
    () => (
      <Top
        dark={dark}
        onToggleTheme={onToggleTheme}
        onHelp={openHelp}
        tools={
          <Button type="text" onClick={openPractice}>
            Practice
          </Button>
        }
      >
        <Picker kind="lens" value={lens.named} picker={lensPicker} onPick={pickLens} />
        <Picker kind="body" value={body.named} picker={bodyPicker} onPick={pickBody} />
      </Top>
    ),
    [dark, onToggleTheme, openHelp, openPractice, lens.named, body.named, pickLens, pickBody],
  );
  const title = lens.named && body.named ? `${lens.named.name} on ${body.named.name} · Tropeion` : "Tropeion";
  return (
    <WorkingContext value={setQuantity}>
      <title>{title}</title>
      {header}
      <main
        className={`page ${all.isPlaceholderData ? "stale" : ""}`}
        aria-busy={!settled && question !== null && !failure}
        data-answer-for={settled ? answerKey(question.lens, question.body, address.via, address.practice) : undefined}
      >
        {content}
      </main>
      <PracticePanel open={panel === "practice"} practice={address.practice} onChange={setPractice} onClose={closePanel} />
      <HelpPanel open={panel === "help"} onClose={closePanel} />
      {question && route && asked && (
        <WorkingPanel
          question={{ ...question, via: route.adapters.join(",") }}
          quantity={quantity}
          onClose={() => {
            setQuantity(null);
          }}
        />
      )}
    </WorkingContext>
  );
}

/** What an answer is the answer to, for those who wait for it. */
function answerKey(lens: string, body: string, via: string | null, practice: Chosen): string {
  const said = Object.entries(practice)
    .filter(([key, value]) => value !== DEFAULT_PRACTICE[key as PracticeKey])
    .map(([key, value]) => `${key}=${value}`);
  return [lens, body, via ?? "best", ...said].join(" ");
}

function merged(all: MatchReport | undefined, one: MatchReport | undefined): MatchReport | undefined {
  if (!all || !one) return all;
  if (one.lens !== all.lens || one.body !== all.body) return all;
  return { ...all, routes: [...one.routes, ...all.routes], pieces: { ...all.pieces, ...one.pieces } };
}

function useNamed(kind: "lens" | "body", id: string | null, report: MatchReport | undefined) {
  const inReport = id === null ? undefined : report?.pieces[id];
  const item = useQuery({ ...itemQuery(kind, id ?? ""), enabled: id !== null && !inReport });
  const name = inReport?.name ?? item.data?.name ?? id;
  const named = useMemo(() => (id === null ? null : { id, name: name ?? id }), [id, name]);
  return {
    named,
    error: id === null || inReport ? null : item.error,
  };
}

function useOwnPractice(start: Start | undefined): { practice: Chosen | null; keep: (practice: Chosen) => void } {
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: async (practice: Chosen) => unwrap(await client.PUT("/api/v1/practice", { body: practice })),
  });
  const practice = useMemo(() => (start ? { ...DEFAULT_PRACTICE, ...start.practice } : null), [start]);
  const { mutate } = save;
  const keep = useCallback(
    (next: Chosen) => {
      queries.setQueryData(startQuery.queryKey, (before) => (before ? { ...before, practice: next } : before));
      mutate(next);
    },
    [queries, mutate],
  );
  return { practice, keep };
}

/** The choices under which this answer was given, where they are not the usual ones or not the reader's own. */
function PracticeNote({ practice, own, onMine }: { practice: Chosen; own: Chosen | null; onMine: () => void }) {
  const unusual = differences(practice, DEFAULT_PRACTICE);
  const foreign = own ? differences(practice, own) : [];
  if (unusual.length === 0 && foreign.length === 0) return null;
  return (
    <p className="practice-note">
      {foreign.length === 0 && <span>{`Judged by ${unusual.join(", ")}.`}</span>}
      {foreign.length > 0 && (
        <>
          <span>{`Judged as this address asks, not as you do: ${foreign.join(", ")}.`}</span>
          <Button size="small" type="link" onClick={onMine}>
            Judge by mine
          </Button>
        </>
      )}
    </p>
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
