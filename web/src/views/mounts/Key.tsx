import "./Key.css";

import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import Segmented from "antd/es/segmented";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";

import type { KeyReport, SystemPage } from "../../api/client";
import { keyQuery, mountQuery } from "../../api/queries";
import { useScreen } from "../../app/screen";
import { percent } from "../../parts/format";
import { AddLens } from "./AddLens";
import { EFFECT_WORDS, EffectMark } from "../../parts/effects";
import { MountFace } from "../../drawing/MountFace";
import { HELP } from "./help";
import { NoSystem } from "./NoSystem";
import { Plain } from "../../parts/Plain";

type Answer = "yes" | "no" | "unknown";
const CODES: Record<string, Answer> = { y: "yes", n: "no", u: "unknown" };
const SAID: Record<Answer, string> = { yes: "seen", no: "not seen", unknown: "cannot see" };

/** Answers in the order they were given: "y.rack-long,n.stepped-shoe"; the address holds them. */
const answersOf = (text: string): [string, Answer][] =>
  text
    .split(",")
    .filter(Boolean)
    .flatMap((part): [string, Answer][] => {
      const answer = CODES[part.slice(0, 1)];
      return answer ? [[part.slice(2), answer]] : [];
    });

/** The identification key: one question at a time, with its drawing, and what remains. */
export default function Key() {
  const { id = "" } = useParams();
  const navigate = useNavigate();
  const [parameters, setParameters] = useSearchParams();
  const side = parameters.get("side") === "body" ? "body" : "lens";
  const answers = answersOf(parameters.get("seen") ?? "");
  const named = (wanted: Answer) =>
    answers
      .filter(([, answer]) => answer === wanted)
      .map(([feature]) => feature)
      .join(",");
  const page = useQuery(mountQuery(id));
  const key = useQuery(keyQuery({ id, side, yes: named("yes"), no: named("no"), unknown: named("unknown") }));
  const keep = (next: [string, Answer][], to: "lens" | "body" = side) => {
    const seen = next.map(([feature, answer]) => `${answer.slice(0, 1)}.${feature}`).join(",");
    setParameters({ ...(to === "body" ? { side: to } : {}), ...(seen ? { seen } : {}) });
  };
  const report = key.data;
  const question = report?.question ?? null;
  const answer = (said: Answer) => {
    if (question && !key.isPlaceholderData) keep([...answers, [question.feature, said]]);
  };
  useScreen({
    title: `Which ${page.data?.mount.name ?? "generation"} is it?`,
    answer:
      key.isSuccess && !key.isPlaceholderData && page.isSuccess ? `key ${id} ${side} ${answers.length}` : undefined,
    busy: key.isPending,
    className: "key",
    help: HELP,
    keys: {
      y: () => answer("yes"),
      n: () => answer("no"),
      u: () => answer("unknown"),
      Backspace: () => keep(answers.slice(0, -1)),
      Escape: () => {
        void navigate(`/mounts/${id}`);
      },
    },
  });
  const error = page.error ?? key.error;
  return (
    <>
      {error && (
        <NoSystem
          error={error}
          onRetry={() => {
            void page.refetch();
            void key.refetch();
          }}
        />
      )}
      {page.data && report && (
        <div className="sheet key-sheet">
          <div className="key-ask">
            <p className="key-head">
              <Link to={`/mounts/${id}`}>{page.data.mount.name}</Link>
              <Segmented<"lens" | "body">
                value={side}
                onChange={(to) => keep([], to)}
                options={[
                  { value: "lens", label: "a lens" },
                  { value: "body", label: "a body" },
                ]}
              />
            </p>
            {question ? (
              <>
                <h1 aria-live="polite">{question.question || `Is there a ${question.label}?`}</h1>
                <p className="message-actions">
                  <Button type="primary" size="large" data-answer="yes" onClick={() => answer("yes")}>
                    Yes, I see it
                  </Button>
                  <Button size="large" data-answer="no" onClick={() => answer("no")}>
                    No
                  </Button>
                  <Button size="large" type="text" data-answer="unknown" onClick={() => answer("unknown")}>
                    Cannot see
                  </Button>
                </p>
              </>
            ) : (
              <Verdict report={report} />
            )}
            <Answers
              answers={answers}
              features={page.data.mount.features}
              onBack={(count) => keep(answers.slice(0, count))}
            />
          </div>
          <KeyDrawing report={report} page={page.data} side={side} answers={answers} />
          <Remaining report={report} />
        </div>
      )}
      {report && page.data && report.may_mount.length > 0 && answers.length > 0 && (
        <div className="below">
          <MayMount report={report} page={page.data} onLook={(part, said) => keep([...answers, [part, said]])} />
          {side === "lens" && <AddLens report={report} page={page.data} />}
        </div>
      )}
    </>
  );
}

function KeyDrawing({
  report,
  page,
  side,
  answers,
}: {
  report: KeyReport;
  page: SystemPage;
  side: "lens" | "body";
  answers: [string, Answer][];
}) {
  const { features } = page.mount;
  const seen = answers.filter(([, said]) => said === "yes").map(([feature]) => feature);
  const asked = features.find(({ id }) => id === report.question?.feature);
  const shown = report.question
    ? features.filter(({ id }) => seen.includes(id))
    : features.filter(({ id }) => report.as_seen.includes(id));
  const from = side === "lens" ? "The lens from behind" : "The body from the front";
  return (
    <figure className="key-drawing">
      <MountFace
        side={side}
        features={shown}
        asked={asked}
        size={340}
        label={asked ? `Where to look: ${asked.label}` : "The mount as it was seen"}
      />
      <figcaption>
        {asked ? `${from}: look ${WHERE[asked.look_at?.view ?? "ring"]}.` : "As it was seen, and as its generation is."}
      </figcaption>
    </figure>
  );
}

const WHERE: Record<string, string> = {
  ring: "at the aperture ring",
  rear: "at the rear rim",
  flange: "at the mounting flange",
  barrel: "at the barrel",
  front: "at the mount",
};

function Verdict({ report }: { report: KeyReport }) {
  const best = report.remaining[0];
  if (!best) return <h1>This system has no generations to tell apart.</h1>;
  return (
    <>
      <h1 aria-live="polite" data-verdict={best.generation}>
        {report.settled
          ? `It is generation ${best.label}.`
          : `Probably generation ${best.label}: nothing more can be asked.`}
      </h1>
      <p>{`${percent(best.probability)} sure, by what was seen and how many there are of each.`}</p>
    </>
  );
}

function Answers({
  answers,
  features,
  onBack,
}: {
  answers: [string, Answer][];
  features: SystemPage["mount"]["features"];
  onBack: (count: number) => void;
}) {
  if (answers.length === 0)
    return <p className="route-gives">Keys: Y, N, U. Nothing is decided by one answer alone.</p>;
  return (
    <ol className="key-answers">
      {answers.map(([feature, said], index) => (
        <li key={feature}>
          <span>{features.find(({ id }) => id === feature)?.label ?? feature}</span>
          <span className={`said ${said}`}>{SAID[said]}</span>
          <Plain className="unfold" onClick={() => onBack(index)}>
            take back
          </Plain>
        </li>
      ))}
    </ol>
  );
}

/** What remains, as bars that narrow. */
function Remaining({ report }: { report: KeyReport }) {
  // A conversion is told where it may be; the generations always.
  const told = report.remaining.filter((one) => one.conversion === "none" || one.probability > 0.01);
  const ordered = told.sort((a, b) => (a.start ?? 0) - (b.start ?? 0));
  return (
    <section className="remaining" aria-label="What remains">
      <h2>What remains</h2>
      <ul>
        {ordered.map(({ id, conversion, label, start, to, probability }) => (
          <li
            key={id}
            className={[probability < 0.02 ? "gone" : "", conversion === "none" ? "" : "converted"].join(" ").trim()}
            data-remaining={id}
            data-probability={probability}
          >
            <span className="remaining-name">{label}</span>
            <span className="remaining-bar">
              <span style={{ width: `${(probability * 100).toFixed(1)}%` }} />
            </span>
            <span className="remaining-share">{percent(probability)}</span>
            <span className="route-gives">{start ? `${start}–${to ?? "today"}` : ""}</span>
          </li>
        ))}
      </ul>
      {report.conflicts.map((conflict) => (
        <p key={conflict.feature} className="conflict" role="note">
          {conflict.text}
        </p>
      ))}
    </section>
  );
}

interface MayMountProps {
  report: KeyReport;
  page: SystemPage;
  onLook: (part: string, said: Answer) => void;
}

/** On each body the worst of what it may still be, what decides it, and the one look that settles it. */
function MayMount({ report, page, onLook }: MayMountProps) {
  const body = (id: string | null) => page.bodies.find((one) => one.id === id);
  const part = (id: string) => page.mount.features.find((one) => one.id === id)?.label ?? id;
  const kin = page.lenses.filter(({ generation }) => generation === report.remaining[0]?.label);
  return (
    <section className="may-mount">
      <h2>Where it may be mounted, as it was seen so far</h2>
      <ul className="findings">
        {report.may_mount.map((one) => (
          <li
            key={`${one.generation} ${one.body ?? ""}`}
            className={one.effect === "damage" ? "danger" : one.effect === "meters" ? "" : "caution"}
            data-effect={one.effect}
          >
            <strong>
              <EffectMark effect={one.effect} />{" "}
              {one.body ? (
                <Link to={`/?body=${one.body}`}>{body(one.body)?.name ?? one.body}</Link>
              ) : (
                `Bodies of generation ${one.label}`
              )}
              {`: ${[EFFECT_WORDS[one.effect], one.unless].filter(Boolean).join(" ")}.`}
            </strong>{" "}
            {one.text} {one.action ?? ""}
            {one.verdicts.length > 1 && <Possible one={one} />}
            {one.look && (
              <span className="look-first">
                {`Look first: ${part(one.look)}. `}
                <LookButton one={one} said="yes" onLook={onLook} />
                <LookButton one={one} said="no" onLook={onLook} />
              </span>
            )}
          </li>
        ))}
      </ul>
      <p className="route-gives">In doubt, do not mount it: ask a qualified repairer first.</p>
      {kin.length > 0 && (
        <p className="kin">
          To the light path with its like:{" "}
          {kin.map((lens) => (
            <Link key={lens.id} to={`/?lens=${lens.id}`}>
              {lens.name}
            </Link>
          ))}
        </p>
      )}
    </section>
  );
}

type Place = KeyReport["may_mount"][number];

/** What each generation that is still possible would do. */
function Possible({ one }: { one: Place }) {
  const told = one.verdicts.map(({ label, effect }) => `${label} ${EFFECT_WORDS[effect]}`);
  return <span className="otherwise">{`Still possible: ${told.join("; ")}.`}</span>;
}

interface LookProps {
  one: Place;
  said: "yes" | "no";
  onLook: (part: string, said: Answer) => void;
}

function LookButton({ one, said, onLook }: LookProps) {
  return (
    <Plain
      className="unfold"
      data-look={`${said} ${one.look ?? ""}`}
      onClick={() => {
        if (one.look) onLook(one.look, said);
      }}
    >
      {said === "yes" ? "I see it" : "it is not there"}
    </Plain>
  );
}
