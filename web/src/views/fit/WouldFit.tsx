import "./WouldFit.css";

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import Input, { type InputRef } from "antd/es/input";
import Radio from "antd/es/radio";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";

import type { Fit, SystemsReport, WouldFitReport } from "../../api/client";
import { labelQuery, mountsQuery, wouldFitQuery } from "../../api/queries";
import { usePractices } from "../../app/Practices";
import type { Practice } from "../../api/client";
import { useChange, type Words } from "../../app/useChange";
import { useScreen } from "../../app/screen";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { lensFront } from "../../drawing/scene";
import { smallOf, Stack } from "../../drawing/Stack";
import { Choices } from "../../parts/Choices";
import { money } from "../../parts/format";
import { withRing } from "../../parts/unlisted";
import { Failed } from "../../parts/Failed";
import { LabelSaid } from "./LabelSaid";
import { UnknownMount } from "./UnknownMount";
import { type Seen, useSeen } from "./useSeen";
import { useTyped } from "./useTyped";

const UNKNOWN_GENERATION = "Its generation is not known: look at the lens before it is mounted.";
const FOCAL = [20, 24, 28, 35, 50, 58, 85, 105, 135, 200, 300];
const EVERYTHING = {
  as: null,
  mount: null,
  mm: null,
  to: null,
  gen: null,
  unknown: null,
  rear: null,
  d: null,
};

/** What is asked of the server, once mount and focal length are known. */
const asked = ({ mount, focal, long, fNumber, fLong, generation }: Seen) => ({
  mount: mount ?? "",
  focal_mm: focal ?? 0,
  ...(long === null ? {} : { focal_long_mm: long }),
  ...(fNumber === null ? {} : { f_number: fNumber }),
  ...(fLong === null ? {} : { f_number_at_long_end: fLong }),
  ...(generation === null ? {} : { generation }),
});

/** The box: a lens as it is engraved, against every body at hand; a label or a listing, and what it would open. */
export default function WouldFit() {
  const [address, change] = useChange();
  const navigate = useNavigate();
  const { own: practice } = usePractices();
  const mounts = useQuery(mountsQuery(practice));
  const seen = useSeen(address);
  const [text, setText] = useTyped(address.get("q") ?? "");
  /** Another question, from the start or from the focal length on. */
  const again = (kept: Words) => {
    setText("");
    change({ ...EVERYTHING, q: null, ...kept }, false);
  };
  const input = useRef<InputRef>(null);
  useEffect(() => {
    // On a phone its keyboard would hide the choices.
    if (!window.matchMedia("(pointer: coarse)").matches) input.current?.focus();
  }, []);
  const label = useLabel(address, practice);
  const { mount, focal } = seen;
  const ready = mount !== null && focal !== null;
  const answer = useQuery({
    ...wouldFitQuery({ ...asked(seen), practice }),
    enabled: ready,
    placeholderData: keepPreviousData,
  });
  const answered = ready && seen.settled && answer.isSuccess && !answer.isPlaceholderData;
  const zoom = seen.long === null ? "" : `-${seen.long}`;
  useScreen({
    title: "Would it fit?",
    answer: label.ring
      ? label.said && `label ${label.said.text}`
      : answered
        ? `fit ${mount} ${focal}${zoom}`
        : mounts.isSuccess && !ready
          ? "fit"
          : undefined,
    className: "fit",
    keys: {
      l: () => void navigate("/"),
      k: () => void navigate("/kit"),
      Escape: () => again({}),
    },
  });
  const systems = [...(mounts.data?.systems ?? [])].sort((one, other) => one.name.localeCompare(other.name));
  const error = mounts.error ?? answer.error;
  return (
    <>
      <h1>Would it fit?</h1>
      <Input
        value={text}
        size="large"
        maxLength={400}
        allowClear
        aria-label="What is engraved on the lens, or printed on a label or in a listing"
        placeholder="as it is read: KLV 1:2.2/55, or KLV–OST …"
        ref={input}
        onChange={(event) => {
          setText(event.target.value);
          change({ ...EVERYTHING, q: event.target.value });
        }}
      />
      {label.said && text.trim() !== "" && <ReadAs ring={label.ring} onChange={(as) => change({ as })} />}
      {label.ring && label.said && <LabelSaid report={label.said} />}
      {!label.ring && <Doubts seen={seen} />}
      {error && (
        <Failed
          error={error}
          onRetry={() => {
            void mounts.refetch();
            void answer.refetch();
          }}
        />
      )}
      {!label.ring && mount !== null && <Known seen={seen} systems={systems} onAgain={again} />}
      {!label.ring && mount === null && !address.has("unknown") && (
        <MountChoice
          systems={systems}
          settled={mounts.isSuccess}
          onChoose={(id) => change({ mount: id }, false)}
          onUnknown={() => change({ unknown: "ask" }, false)}
        />
      )}
      {!label.ring && mount === null && address.has("unknown") && (
        <UnknownMount address={address} change={change} />
      )}
      {!label.ring && mount !== null && !ready && (
        <FocalChoice onChoose={(ends) => change({ mount, ...ends }, false)} />
      )}
      {!label.ring && ready && answer.data && (
        <Answers answer={answer.data} onGeneration={(gen) => change({ gen }, false)} mount={mount} />
      )}
    </>
  );
}

/** What was typed, read as a label: so where both its ends are named, unless somebody says otherwise. */
function useLabel(address: URLSearchParams, practice: Practice) {
  const text = (address.get("q") ?? "").trim();
  const read = useQuery({
    ...labelQuery(text, practice),
    enabled: text !== "",
    placeholderData: keepPreviousData,
  });
  const said = text === "" ? undefined : read.data;
  const as = address.get("as");
  return { said, ring: said !== undefined && (as === null ? said.names_both_ends : as === "ring") };
}

/** What the words are taken for. */
function ReadAs({ ring, onChange }: { ring: boolean; onChange: (as: string) => void }) {
  return (
    <Radio.Group
      className="read-as"
      value={ring ? "ring" : "lens"}
      onChange={(event) => onChange(event.target.value === "ring" ? "ring" : "lens")}
      aria-label="Read as"
    >
      <Radio value="lens">a lens</Radio>
      <Radio value="ring">an adapter</Radio>
    </Radio.Group>
  );
}

/** What was typed and is not sure, or could not be read at all. */
function Doubts({ seen }: { seen: Seen }) {
  const said = seen.unread
    ? [
        "Nothing of this can be read. As it is engraved: “KLV 1:2.2/55”, “Tolmer 46 135 mm f/3.5”, “28-80 mm 1:3.5-4.5”.",
      ]
    : seen.doubts;
  if (said.length === 0) return null;
  return (
    <ul className="findings">
      {said.map((doubt) => (
        <li key={doubt} className="caution">
          {doubt}
        </li>
      ))}
    </ul>
  );
}

interface KnownProps {
  seen: Seen;
  systems: SystemsReport["systems"];
  onAgain: (kept: Words) => void;
}

/** What is settled of the question; a tap goes back to it. */
function Known({ seen, systems, onAgain }: KnownProps) {
  const { mount, focal, long, fNumber } = seen;
  const name = systems.find(({ id }) => id === mount)?.name ?? mount ?? "";
  const ends = long === null ? `${focal ?? ""} mm` : `${focal ?? ""}–${long} mm`;
  return (
    <p className="fit-said">
      <button type="button" className="unfold" onClick={() => onAgain({})}>
        {`${name} lens`}
      </button>
      {focal !== null && (
        <button type="button" className="unfold" onClick={() => onAgain({ mount })}>
          {`${ends}${fNumber === null ? "" : ` f/${fNumber}`}`}
        </button>
      )}
    </p>
  );
}

interface MountProps {
  systems: SystemsReport["systems"];
  settled: boolean;
  onChoose: (id: string) => void;
  onUnknown: () => void;
}

function MountChoice({ systems, settled, onChoose, onUnknown }: MountProps) {
  return (
    <section>
      <h2>Its mount</h2>
      <Choices>
        {systems.map(({ id, name }) => (
          <button key={id} type="button" data-mount={id} onClick={() => onChoose(id)}>
            {name}
          </button>
        ))}
        {systems.length > 0 && (
          <button type="button" className="fit-unknown" onClick={onUnknown}>
            I do not know
          </button>
        )}
      </Choices>
      {settled && systems.length === 0 && (
        <p>
          No mount system is known yet. <Link to="/files">Import a gear file</Link>
        </p>
      )}
    </section>
  );
}

/** "70", "28-80" or "28–80 mm", as one types it. */
function focalOf(text: string): Words | null {
  const found = /^\s*(\d+(?:[.,]\d+)?)\s*(?:[-–—]\s*(\d+(?:[.,]\d+)?))?\s*(?:mm)?\s*$/.exec(text);
  const value = (part: string | undefined) => Number(part?.replace(",", "."));
  const [short, long] = [value(found?.[1]), value(found?.[2])];
  if (!(short > 0)) return null;
  return { mm: String(short), to: long > 0 ? String(long) : null };
}

function FocalChoice({ onChoose }: { onChoose: (ends: Words) => void }) {
  const [wrong, setWrong] = useState(false);
  return (
    <section>
      <h2>Its focal length, mm</h2>
      <Choices numbers>
        {FOCAL.map((one) => (
          <button
            key={one}
            type="button"
            data-focal={one}
            onClick={() => onChoose({ mm: String(one), to: null })}
          >
            {one}
          </button>
        ))}
        <form
          onSubmit={(event) => {
            event.preventDefault();
            const typed = new FormData(event.currentTarget).get("mm");
            const ends = focalOf(typeof typed === "string" ? typed : "");
            setWrong(ends === null);
            if (ends) onChoose(ends);
          }}
        >
          <input
            name="mm"
            placeholder="other, 28-80"
            aria-label="Another focal length, or both ends of a zoom, mm"
            aria-invalid={wrong}
          />
        </form>
      </Choices>
      {wrong && <p role="alert">One number, or the two of a zoom: “70”, “28-80”.</p>}
    </section>
  );
}

interface AnswersProps {
  answer: WouldFitReport;
  mount: string;
  onGeneration: (id: string | null) => void;
}

/** Which generation it is, where that decides: one tap, or the key. */
function Generations({ answer, mount, onGeneration }: AnswersProps) {
  if (answer.generations.length < 2) return null;
  return (
    <section className="fit-generation">
      <h2>Its generation decides what may be done</h2>
      <Choices numbers>
        {answer.generations.map(({ id, label, chosen }) => (
          <button
            key={id}
            type="button"
            data-generation={id}
            aria-pressed={chosen}
            onClick={() => onGeneration(chosen ? null : id)}
          >
            {label}
          </button>
        ))}
        <Link className="fit-key" to={`/mounts/${mount}/key`}>
          Which is it?
        </Link>
      </Choices>
    </section>
  );
}

function Answers(props: AnswersProps) {
  const { answer } = props;
  const { report } = answer;
  const longest = Math.max(60, ...report.fits.map((fit) => Math.min(lensFront(fit.section) ?? 0, 170)));
  const scale = 104 / longest;
  const assumed = answer.assumed.map((word) => word.replaceAll("_", " ").replace(/ mm$/, ""));
  const begin = new URLSearchParams({
    item: "new",
    with_name: answer.name,
    with_mount: report.pieces[report.id]?.mount ?? "",
  });
  const generationKnown = answer.generations.length === 0 || answer.generations.some(({ chosen }) => chosen);
  const works = report.fits.filter((fit) => fit.works).length;
  const more = report.fits.filter((fit) => !fit.works && fit.would_need).length;
  const rings = more ? ` On ${more} ${works ? "more " : ""}with a ring that is not listed.` : "";
  return (
    <section data-state="would-fit">
      <Generations {...props} />
      <p className="fit-verdict">
        {report.fits.length === 0
          ? "There is no body in the kit yet."
          : `${works ? `On ${works} of ${report.fits.length} bodies.` : "On none of the bodies with what is listed."}${rings}`}
      </p>
      <ul className="fit-bodies">
        {report.fits.map((listed) => {
          const unlisted = !listed.works && listed.would_need;
          const fit = unlisted ? withRing(listed) : listed;
          return (
            <li
              key={fit.id}
              data-body={fit.id}
              data-grade={unlisted ? "not-listed" : fit.surely ? (fit.grade ?? "nothing") : "not-known"}
            >
              <span className="fit-head">
                {fit.grade ? <GradeMark grade={fit.grade} size={26} /> : <span className="cell-nothing" />}
                {answer.id === null ? (
                  <strong>{fit.name}</strong>
                ) : (
                  <Link to={`/?lens=${answer.id}&body=${fit.id}`}>{fit.name}</Link>
                )}
                <span className="route-gives">{gradeOf(listed)}</span>
              </span>
              {fit.section && (
                <Stack
                  small={smallOf({
                    section: fit.section,
                    pieces: report.pieces,
                    lens: report.id,
                    body: fit.id,
                    adapters: fit.adapters,
                    route: null,
                  })}
                  scale={scale}
                  width={118}
                  height={44}
                />
              )}
              <span className="fit-text">
                <span>{unlisted ? "" : fit.sentence}</span>
                <strong>{buying(listed, report)}</strong>
                {fit.warnings.map((warning) => (
                  <span key={warning} className="warning">
                    <GradeMark grade="danger" size={15} /> {warning}
                  </span>
                ))}
              </span>
            </li>
          );
        })}
      </ul>
      <p className="route-gives">
        {assumed.length
          ? [
              "Assumed as usual for this mount:",
              `${assumed.join(", ")}.`,
              generationKnown ? "" : UNKNOWN_GENERATION,
            ].join(" ")
          : "Nothing else is known of this lens: look at it before it is mounted."}
      </p>
      <p className="message-actions">
        <Link to={`/kit/lenses?${begin.toString()}`}>I bought it: add it</Link>
      </p>
    </section>
  );
}

/** What a pair comes to; with a ring that nobody lists where nothing else joins it. */
function gradeOf(fit: Fit): string {
  if (!fit.works && fit.would_need)
    return `${gradeTitle(fit.would_need.grade)}, with a ring that is not listed`;
  if (!fit.surely) return "Not known";
  if (fit.grade) return gradeTitle(fit.grade);
  return fit.with_glass ? "with correcting glass alone" : "no ring can join them";
}

/** What would have to be bought for it. */
function buying(fit: Fit, report: WouldFitReport["report"]): string {
  if (!fit.works && fit.would_need) return `To look for: ${fit.would_need.ring}.`;
  if (!fit.grade || fit.section === null) return "";
  const missing = fit.adapters.filter((id) => !report.pieces[id]?.owned);
  if (fit.adapters.length === 0) return "Straight on, no adapter.";
  const names = (ids: readonly string[]) => ids.map((id) => report.pieces[id]?.name ?? id).join(" + ");
  if (missing.length === 0) return `With what is in the kit: ${names(fit.adapters)}.`;
  const price = fit.price === null ? "price unknown" : money(fit.price, report.currency);
  return `To buy: ${names(missing)}, ${price}.`;
}
