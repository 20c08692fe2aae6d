import "./WouldFit.css";

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import Input, { type InputRef } from "antd/es/input/Input";
import Radio from "antd/es/radio";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";

import type { SystemsReport } from "../../api/client";
import { labelQuery, mountsQuery, wouldFitQuery } from "../../api/queries";
import { usePractices } from "../../app/Practices";
import type { Practice } from "../../api/client";
import { useChange, type Words } from "../../app/useChange";
import { useScreen } from "../../app/screen";
import { Choices } from "../../parts/Choices";
import { Failed } from "../../parts/Failed";
import { Answers } from "./Answers";
import { LabelSaid } from "./LabelSaid";
import { UnknownMount } from "./UnknownMount";
import { type Seen, useSeen } from "./useSeen";
import { useTyped } from "./useTyped";
import { Plain } from "../../parts/Plain";

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
      {!label.ring && mount === null && address.has("unknown") && <UnknownMount address={address} change={change} />}
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
      <Plain className="unfold" onClick={() => onAgain({})}>
        {`${name} lens`}
      </Plain>
      {focal !== null && (
        <Plain className="unfold" onClick={() => onAgain({ mount })}>
          {`${ends}${fNumber === null ? "" : ` f/${fNumber}`}`}
        </Plain>
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
          <Plain key={id} data-mount={id} onClick={() => onChoose(id)}>
            {name}
          </Plain>
        ))}
        {systems.length > 0 && (
          <Plain className="fit-unknown" onClick={onUnknown}>
            I do not know
          </Plain>
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
          <Plain key={one} data-focal={one} onClick={() => onChoose({ mm: String(one), to: null })}>
            {one}
          </Plain>
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
          <Input
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
