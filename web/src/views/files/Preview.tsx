import "./Preview.css";

import { useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Checkbox from "antd/es/checkbox";
import Radio from "antd/es/radio";
import { useRef, useState } from "react";
import { Link } from "react-router";

import type { ImportPreview } from "../../api/client";
import { KIND_WORDS, titleOf } from "../../parts/labels";
import { Refused } from "../../parts/Refused";
import { send } from "../../api/client";

type Change = ImportPreview["changes"][number];
type Status = Change["status"];

const GROUPS: { status: Status; title: string; says: string }[] = [
  { status: "new", title: "New", says: "" },
  { status: "changed", title: "Changed", says: "field by field, as it stands and as it would be" },
  {
    status: "conflict",
    title: "In conflict",
    says: "the same id on another mount: most likely another thing. Not taken unless you choose it",
  },
  { status: "same", title: "The same", says: "nothing to do" },
];
const MOST_SHOWN = 200;
const keyOf = (change: Change) => `${change.kind} ${change.id}`;

/** A value as a gear file writes it, in plain words where it is short. */
function plainly(written: string | null): string {
  if (written === null) return "not said";
  const value: unknown = JSON.parse(written);
  if (typeof value === "string") return value;
  if (typeof value === "number") return String(value);
  if (Array.isArray(value) && value.every((one) => ["string", "number"].includes(typeof one)))
    return value.length ? value.join(", ") : "none";
  return written;
}

interface Step {
  done?: number;
  of?: number;
  written?: number;
  problem?: string;
}

/** What is chosen of a file: whole kinds of change, but for some that are turned. */
function useChosen(preview: ImportPreview) {
  const [taken, setTaken] = useState<Record<Status, boolean>>({
    new: true,
    changed: true,
    conflict: false,
    same: false,
  });
  const [turned, setTurned] = useState<ReadonlySet<string>>(new Set());
  /** Asked once where the table does not say it. */
  const [owned, setOwned] = useState<boolean | null>(preview.asks_owned ? null : false);
  const takes = (change: Change) => taken[change.status] !== turned.has(keyOf(change));
  const turn = (change: Change) => {
    const next = new Set(turned);
    if (!next.delete(keyOf(change))) next.add(keyOf(change));
    setTurned(next);
  };
  const takeAll = (status: Status, group: readonly Change[], all: boolean) => {
    setTaken({ ...taken, [status]: all });
    setTurned(new Set([...turned].filter((key) => !group.some((change) => keyOf(change) === key))));
  };
  const pairs = (wanted: boolean) =>
    preview.changes
      .filter((change) => turned.has(keyOf(change)) && takes(change) === wanted)
      .map(({ kind, id }) => [kind, id]);
  const statuses = (["new", "changed", "conflict"] as const).filter((status) => taken[status]);
  return {
    taken,
    takes,
    turn,
    takeAll,
    count: preview.changes.filter((change) => change.status !== "same" && takes(change)).length,
    owned,
    setOwned,
    body: () => JSON.stringify({ statuses, leave: pairs(false), also: pairs(true), owned: owned === true }),
  };
}

type Chosen = ReturnType<typeof useChosen>;

/** Writing what was chosen, all or nothing, with a word on how far it is; it can be left. */
function useTaking(preview: ImportPreview, chosen: Chosen) {
  const queries = useQueryClient();
  const [step, setStep] = useState<Step | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const leaving = useRef<AbortController | null>(null);
  const take = async () => {
    setError(null);
    setStep({ done: 0, of: chosen.count });
    const control = new AbortController();
    leaving.current = control;
    try {
      const address = `/api/v1/import/${preview.token}`;
      const response = await send(address, chosen.body(), "application/json", control.signal);
      if (!response.body) throw new Error("The answer is empty.");
      const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
      let rest = "";
      for (;;) {
        const { done, value } = await reader.read();
        if (done) break;
        const lines = (rest + value).split("\n");
        rest = lines.pop() ?? "";
        const last = lines.at(-1);
        if (last) setStep(JSON.parse(last) as Step);
      }
      await queries.invalidateQueries();
    } catch (caught) {
      setStep(null);
      if (!control.signal.aborted) setError(caught instanceof Error ? caught : new Error(String(caught)));
      else await queries.invalidateQueries();
    }
  };
  return { step, error, take, leave: () => leaving.current?.abort() };
}

/** What a file would do, to choose from; then all of it or nothing. */
export function Preview({ preview, onDone }: { preview: ImportPreview; onDone: () => void }) {
  const chosen = useChosen(preview);
  const { step, error, take, leave } = useTaking(preview, chosen);
  if (step?.written !== undefined) {
    return (
      <section className="preview" data-state="imported" role="status">
        <h2>{`${step.written} ${step.written === 1 ? "item" : "items"} written from ${preview.name}.`}</h2>
        <p className="message-actions">
          <Link to="/kit">See the kit</Link>
          <Button onClick={onDone}>Another file</Button>
        </p>
      </section>
    );
  }
  const busy = step !== null && step.problem === undefined;
  const { count } = chosen;
  return (
    <section className="preview" data-state="preview">
      <h2>{`What ${preview.name} would do`}</h2>
      <p className="preview-counts">
        {GROUPS.map(({ status, title }) => `${preview[status]} ${title.toLowerCase()}`).join(" · ")}
      </p>
      {preview.asks_owned && (
        <p className="preview-owned">
          {"The table does not say whose they are. "}
          <Radio.Group
            value={chosen.owned}
            onChange={(event) => chosen.setOwned(event.target.value === true)}
            aria-label="Whose they are"
          >
            <Radio value={true}>They are mine</Radio>
            <Radio value={false}>Only to compare</Radio>
          </Radio.Group>
        </p>
      )}
      <p className="message-actions">
        <Button
          type="primary"
          disabled={count === 0 || busy || chosen.owned === null}
          loading={busy}
          onClick={() => void take()}
        >
          {count ? `Take ${count}, all or nothing` : "Nothing is chosen"}
        </Button>
        {busy ? (
          <>
            <progress value={step.done ?? 0} max={Math.max(1, step.of ?? 1)} aria-label="Written so far" />
            <Button onClick={leave}>Cancel, write nothing</Button>
          </>
        ) : (
          <Button onClick={onDone}>Cancel</Button>
        )}
      </p>
      {step?.problem && <p role="alert" className="problem-line">{`Nothing was written: ${step.problem}`}</p>}
      {error && <Refused error={error} />}
      {GROUPS.map((group) => (
        <ChangesOf key={group.status} preview={preview} chosen={chosen} {...group} />
      ))}
    </section>
  );
}

interface GroupProps {
  preview: ImportPreview;
  chosen: Chosen;
  status: Status;
  title: string;
  says: string;
}

/** The changes of one kind, each to be taken or left. */
function ChangesOf({ preview, chosen, status, title, says }: GroupProps) {
  const group = preview.changes.filter((change) => change.status === status);
  if (group.length === 0) return null;
  return (
    <details open={status !== "same" && group.length <= 60} data-status={status}>
      <summary>
        {`${title} `}
        <span className="wall-count">{group.length}</span>
        {says && <span className="route-gives">{` ${says}`}</span>}
      </summary>
      {status !== "same" && (
        <Checkbox
          checked={chosen.taken[status]}
          onChange={(event) => chosen.takeAll(status, group, event.target.checked)}
        >
          all of these
        </Checkbox>
      )}
      <ul className="changes">
        {group.slice(0, MOST_SHOWN).map((change) => (
          <li key={keyOf(change)} data-change={keyOf(change)}>
            {status === "same" ? (
              <span>{change.name}</span>
            ) : (
              <Checkbox checked={chosen.takes(change)} onChange={() => chosen.turn(change)}>
                {change.name}
              </Checkbox>
            )}
            <span className="route-gives">{KIND_WORDS[change.kind].one}</span>
            {change.fields.length > 0 && <FieldChanges change={change} />}
          </li>
        ))}
        {group.length > MOST_SHOWN && <li className="route-gives">{`and ${group.length - MOST_SHOWN} more`}</li>}
      </ul>
    </details>
  );
}

function FieldChanges({ change }: { change: Change }) {
  return (
    <table>
      <tbody>
        {change.fields.map(({ field, before, after }) => (
          <tr key={field}>
            <th scope="row">{titleOf(field)}</th>
            <td className="was">{plainly(before)}</td>
            <td>{plainly(after)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
