import Button from "antd/es/button";
import Input from "antd/es/input";
import { useState } from "react";

import type { Entry, EntryLine } from "../../api/logQueries";
import { Plain } from "../../parts/Plain";
import { Refused } from "../../parts/Refused";
import { useStrike } from "../../parts/useStrike";
import { numberIn } from "./settings";
import { useCorrecting, type Waiting } from "./useLogging";

interface Props {
  entries: readonly EntryLine[];
  waiting: readonly Waiting[];
  onAgain: () => void;
  onInsist: (entry: Entry, because: string) => void;
  onDrop: (id: string) => void;
}

const WAYS: Record<Entry["way"], string> = { tap: "", before: "from here on", after: "the series before" };

/** The time of an entry as the clock showed it there. */
export const clockOf = (at: string) => at.slice(11, 19);

/** The last entries: corrected or struck out where they stand; those not kept yet stand above. */
export function LastEntries({ entries, waiting, onAgain, onInsist, onDrop }: Props) {
  const left = waiting.filter(({ refused }) => refused === null).length;
  return (
    <>
      {left > 0 && (
        <p className="log-waiting" role="status">
          {`${left} ${left === 1 ? "entry has" : "entries have"} not been sent yet; they stay here and are sent again.`}{" "}
          <Button size="small" onClick={onAgain}>
            Send now
          </Button>
        </p>
      )}
      <ul className="log-entries" aria-label="Last entries">
        {waiting.map((one) => (
          <NotKept key={one.entry.id} waiting={one} onInsist={onInsist} onDrop={onDrop} />
        ))}
        {entries.map((line) => (
          <Kept key={`${line.entry.id} ${line.version}`} line={line} />
        ))}
      </ul>
    </>
  );
}

interface NotKeptProps {
  waiting: Waiting;
  onInsist: Props["onInsist"];
  onDrop: Props["onDrop"];
}

function NotKept({ waiting: { entry, refused }, onInsist, onDrop }: NotKeptProps) {
  const [because, setBecause] = useState("");
  return (
    <li className="log-entry log-entry-waiting" data-state={refused ? "refused" : "waiting"}>
      <time dateTime={entry.at}>{clockOf(entry.at)}</time>
      <span>{entry.aperture === null ? "aperture not noted" : `f/${entry.aperture}`}</span>
      <span>{refused ? refused.message : "not sent yet"}</span>
      {refused && (
        <form
          className="log-because"
          onSubmit={(event) => {
            event.preventDefault();
            if (because.trim() !== "") onInsist(entry, because.trim());
          }}
        >
          <Input
            aria-label="Why it was so all the same"
            placeholder="why it was so all the same"
            value={because}
            maxLength={400}
            onChange={(event) => setBecause(event.target.value)}
          />
          <Button htmlType="submit" disabled={because.trim() === ""}>
            Keep it
          </Button>
          <Button onClick={() => onDrop(entry.id)}>Leave it out</Button>
        </form>
      )}
    </li>
  );
}

function Kept({ line }: { line: EntryLine }) {
  const { entry } = line;
  const [correcting, setCorrecting] = useState(false);
  const strike = useStrike("log_entries");
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
            <Plain className="unfold" onClick={() => strike.mutate({ id: entry.id, reason: "" })}>
              strike out
            </Plain>
          </>
        )}
        {struck && <span className="route-gives">struck out</span>}
      </span>
      {strike.error && <Refused error={strike.error} />}
      {correcting && <Correct line={line} onDone={() => setCorrecting(false)} />}
    </li>
  );
}

/** Stop, mark, time, frame and note of one entry, corrected where it stands. */
function Correct({ line, onDone }: { line: EntryLine; onDone: () => void }) {
  const { entry } = line;
  const correcting = useCorrecting();
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
