import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import { useState } from "react";
import { Link } from "react-router";

import type { Entry, EntryLine } from "../../api/logQueries";
import { Plain } from "../../parts/Plain";
import { Refused } from "../../parts/Refused";
import { takenPath } from "../../parts/taken";
import { entryOf } from "../../pocket/deeds";
import { clockOf, numberIn } from "./settings";
import { useCorrecting, useStrikingOut, type WaitingEntry } from "./useLogging";
import { Waiting } from "./Waiting";

interface Props {
  entries: readonly EntryLine[];
  waiting: readonly WaitingEntry[];
  onAgain: () => void;
  onInsist: (one: WaitingEntry, because: string) => void;
  onDrop: (one: WaitingEntry) => void;
}

const WAYS: Record<Entry["way"], string> = { tap: "", before: "from here on", after: "the series before" };

/** The last entries: corrected or struck out where they stand; those not kept yet stand above. */
export function LastEntries({ entries, waiting, ...deciding }: Props) {
  const held = new Set(waiting.map(({ deed }) => entryOf(deed)));
  return (
    <>
      <Waiting waiting={waiting} {...deciding} />
      <ul className="log-entries" aria-label="Last entries">
        {entries.map((line) => (
          <Kept key={`${line.entry.id} ${line.version}`} line={line} waits={held.has(line.entry.id)} />
        ))}
      </ul>
    </>
  );
}

function Kept({ line, waits }: { line: EntryLine; waits: boolean }) {
  const { entry } = line;
  const [correcting, setCorrecting] = useState(false);
  const strike = useStrikingOut();
  const struck = entry.struck !== null;
  const series = entry.series === null ? "" : `, ${entry.series.kind}`;
  return (
    <li className={`log-entry${struck ? " struck" : ""}`} data-entry={entry.id}>
      <time dateTime={entry.at} title={entry.at}>
        {clockOf(entry.at)}
      </time>
      <span className="log-entry-set">{line.says || "nothing noted"}</span>
      <span className="log-entry-rig">
        {[line.shot, line.rig_name, line.body_name, WAYS[entry.way]].filter(Boolean).join(", ") + series}
        {entry.note && <em className="log-entry-note">{entry.note}</em>}
      </span>
      <span className="log-entry-tools">
        {!struck && (
          <>
            <Plain className="unfold" aria-expanded={correcting} onClick={() => setCorrecting(!correcting)}>
              correct
            </Plain>
            <Plain className="unfold" onClick={() => strike.mutate({ entry, waits })}>
              strike out
            </Plain>
            <Link className="unfold" to={takenPath(entry)}>
              how it did
            </Link>
          </>
        )}
        {struck && <span className="route-gives">struck out</span>}
      </span>
      {strike.error && <Refused error={strike.error} />}
      {correcting && <Correct line={line} waits={waits} onDone={() => setCorrecting(false)} />}
    </li>
  );
}

/** Stop, mark, time, frame and note of one entry, corrected where it stands. */
function Correct({ line, waits, onDone }: { line: EntryLine; waits: boolean; onDone: () => void }) {
  const { entry } = line;
  const correcting = useCorrecting(waits);
  const [stop, setStop] = useState(entry.aperture === null ? "" : String(entry.aperture));
  const [mark, setMark] = useState(entry.focal_length_mm === null ? "" : String(entry.focal_length_mm));
  const [frame, setFrame] = useState(entry.frame_number === null ? "" : String(entry.frame_number));
  const [time, setTime] = useState(clockOf(entry.at));
  const [note, setNote] = useState(entry.note);
  const [because, setBecause] = useState("");
  const keep = () =>
    correcting.mutate(
      {
        line,
        because: because.trim(),
        changed: {
          aperture: numberIn(stop),
          focal_length_mm: numberIn(mark),
          frame_number: frame.trim() === "" ? null : Math.round(Number(frame)),
          note: note.trim(),
          at:
            entry.at.slice(0, 11) +
            (/^\d\d:\d\d(:\d\d)?$/.test(time) ? time.padEnd(8, ":00") : clockOf(entry.at)) +
            entry.at.slice(19),
        },
      },
      { onSuccess: onDone },
    );
  const field = (name: string, value: string, set: (text: string) => void, decimal = true) => (
    <label className="log-field">
      <span>{name}</span>
      <Input value={value} inputMode={decimal ? "decimal" : "text"} onChange={(event) => set(event.target.value)} />
    </label>
  );
  return (
    <form
      className="log-correct"
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
    >
      {field("Aperture, f/", stop, setStop)}
      {field("Mark of the zoom, mm", mark, setMark)}
      {entry.roll !== null && field("Frame", frame, setFrame)}
      <label className="log-field">
        <span>Time</span>
        <Input type="time" step={1} value={time} onChange={(event) => setTime(event.target.value)} />
      </label>
      {field("Note", note, setNote, false)}
      {correcting.error && (
        <>
          <Refused error={correcting.error} />
          {field("Why it was so all the same", because, setBecause, false)}
        </>
      )}
      <p className="message-actions">
        <Button type="primary" htmlType="submit" loading={correcting.isPending}>
          Correct it
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </p>
    </form>
  );
}
