import "../Log.css";
import "./PieceRecord.css";

import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";

import { type Happening, type RecordedKind, recordQuery } from "../../../api/pieceQueries";
import { useScreen } from "../../../app/screen";
import { Failed } from "../../../parts/Failed";
import { Plain } from "../../../parts/Plain";
import { Refused } from "../../../parts/Refused";
import { UndoBar } from "../../../parts/UndoBar";
import { useStrike } from "../../../parts/useStrike";
import { NoteEvent } from "./NoteEvent";

const KINDS: readonly string[] = ["lenses", "bodies", "adapters"];
const isKind = (text: string): text is RecordedKind => KINDS.includes(text);

/** A piece's own record, along the time: what happened to it, and what was found with it. */
export default function PieceRecord() {
  const { kind: said = "", id = "" } = useParams();
  const kind = isKind(said) ? said : "lenses";
  const page = useQuery(recordQuery(kind, id));
  useScreen({
    title: page.data ? `Record of ${page.data.name}` : "Record",
    answer: page.data ? `record ${id}` : undefined,
    busy: page.isPending,
    className: "piece-record",
  });
  if (page.error) return <Failed error={page.error} onRetry={() => void page.refetch()} />;
  if (!page.data) return <div className="sheet skeleton" aria-busy="true" />;
  const { name, at, life } = page.data;
  return (
    <div className="record-page">
      <h1>{name}</h1>
      {at && <p className="away-said">{at.says}</p>}
      <p className="message-actions">
        <Link to={`/kit/${kind}?item=${id}`}>In the kit</Link>
      </p>
      {life.length === 0 && <p className="record-none">Nothing is noted of it yet. How did it come to you?</p>}
      <ol className="record-life" aria-label="What happened, the latest first">
        {life.map((one) => (
          <OneHappening key={`${one.on} ${one.what} ${one.says}`} one={one} />
        ))}
      </ol>
      <NoteEvent kind={kind} id={id} />
      <UndoBar />
    </div>
  );
}

function OneHappening({ one: { on, what, says, event } }: { one: Happening }) {
  const strike = useStrike("events");
  return (
    <li data-what={what}>
      <time dateTime={on}>{on}</time>
      <span>{says}</span>
      {event && (
        <Plain className="unfold" onClick={() => strike.mutate({ id: event, reason: "" })}>
          strike out
        </Plain>
      )}
      {strike.error && <Refused error={strike.error} />}
    </li>
  );
}
