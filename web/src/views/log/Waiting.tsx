import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import { useState } from "react";

import type { Entry } from "../../api/logQueries";
import { keep } from "../../parts/csv";
import { inLogFile, LOG_FILE_NAME, logFileOf } from "../../pocket/logFile";
import { clockOf, stopSaid } from "./settings";
import type { WaitingEntry } from "./useLogging";

interface Props {
  waiting: readonly WaitingEntry[];
  onAgain: () => void;
  onInsist: (one: WaitingEntry, because: string) => void;
  onDrop: (one: WaitingEntry) => void;
}

/** What has not been sent: how much it is, and what was refused, to be decided. */
export function Waiting({ waiting, onAgain, onInsist, onDrop }: Props) {
  const left = waiting.filter(({ refused }) => refused === null).length;
  if (waiting.length === 0) return null;
  return (
    <>
      <p className="log-waiting" role="status">
        {left > 0 &&
          `${left} ${left === 1 ? "entry has" : "entries have"} not been sent yet; they stay here and are sent again.`}{" "}
        {left > 0 && (
          <Button size="small" onClick={onAgain}>
            Send now
          </Button>
        )}
        {inLogFile(waiting) > 0 && (
          <Button size="small" onClick={() => keep(LOG_FILE_NAME, "application/json", logFileOf(waiting))}>
            Save as a log file
          </Button>
        )}
      </p>
      <ul className="log-entries" aria-label="Not sent yet">
        {waiting.map((one) => (
          <NotKept key={one.number} waiting={one} onInsist={onInsist} onDrop={onDrop} />
        ))}
      </ul>
    </>
  );
}

const DOING = { entry: "", correction: "corrected to ", strike: "struck out: ", tick: "", pack: "" } as const;

function NotKept({ waiting, onInsist, onDrop }: Pick<Props, "onInsist" | "onDrop"> & { waiting: WaitingEntry }) {
  const { deed, struck, refused } = waiting;
  const entry = deed.kind === "entry" || deed.kind === "correction" ? deed.entry : struck;
  const name = `${DOING[deed.kind]}${entry ? stopSaid(entry) : "an entry"}`;
  return (
    <li className="log-entry log-entry-waiting" data-state={refused ? "refused" : "waiting"}>
      <time dateTime={entry?.at ?? deed.at}>{clockOf(entry?.at ?? deed.at)}</time>
      <span>{name}</span>
      <span>{refused ? refused.text : "not sent yet"}</span>
      {refused?.theirs && entry && <Both mine={entry} theirs={refused.theirs.entry} />}
      {refused && <Decide waiting={waiting} onInsist={onInsist} onDrop={onDrop} />}
    </li>
  );
}

const FIELDS: readonly (readonly [keyof Entry, string])[] = [
  ["at", "time"],
  ["aperture", "aperture f/"],
  ["focal_length_mm", "mark of the zoom, mm"],
  ["frame_number", "frame"],
  ["distance_m", "distance, m"],
  ["focus", "focus"],
  ["support", "held by"],
  ["use", "use"],
  ["note", "note"],
  ["struck", "struck out"],
];

/** Two corrections of one entry, side by side, by what differs. */
function Both({ mine, theirs }: { mine: Entry; theirs: Entry }) {
  const differ = FIELDS.filter(([key]) => JSON.stringify(mine[key]) !== JSON.stringify(theirs[key]));
  const said = (value: Entry[keyof Entry]) =>
    value === null || value === "" ? "not noted" : typeof value === "object" ? JSON.stringify(value) : String(value);
  return (
    <table className="log-both">
      <thead>
        <tr>
          <th scope="col">Differs</th>
          <th scope="col">Here</th>
          <th scope="col">On the machine</th>
        </tr>
      </thead>
      <tbody>
        {differ.map(([key, name]) => (
          <tr key={key}>
            <th scope="row">{name}</th>
            <td>{said(mine[key])}</td>
            <td>{said(theirs[key])}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Decide({ waiting, onInsist, onDrop }: Pick<Props, "onInsist" | "onDrop"> & { waiting: WaitingEntry }) {
  const [because, setBecause] = useState("");
  const { refused } = waiting;
  if (refused?.theirs)
    return (
      <p className="message-actions">
        <Button onClick={() => onInsist(waiting, "")}>Keep this one</Button>
        <Button onClick={() => onDrop(waiting)}>Leave the machine’s</Button>
      </p>
    );
  if (!refused?.reason)
    return (
      <p className="message-actions">
        <Button onClick={() => onInsist(waiting, "")}>Try again</Button>
        <Button onClick={() => onDrop(waiting)}>Leave it out</Button>
      </p>
    );
  return (
    <form
      className="log-because"
      onSubmit={(event) => {
        event.preventDefault();
        if (because.trim() !== "") onInsist(waiting, because.trim());
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
      <Button onClick={() => onDrop(waiting)}>Leave it out</Button>
    </form>
  );
}
