import "./Begin.css";

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";

import { client, unwrap } from "../../api/client";
import { about, matchQuery, mountsQuery } from "../../api/queries";
import { usePractices } from "../../app/Practices";
import { useScreen } from "../../app/screen";
import { gradeTitle, GradeMark, UnknownMark } from "../../drawing/GradeMark";
import { DistanceRange } from "../../parts/DistanceRange";
import { mm, unbroken } from "../../parts/format";
import { viaOf } from "../../parts/rig";
import { Failed } from "../../parts/Failed";
import { UndoBar } from "../../parts/UndoBar";
import { useNamed } from "../../parts/useNamed";
import { BodyForm } from "./BodyForm";
import { LensForm } from "./LensForm";
import { RingForm } from "./RingForm";
import { Plain } from "../../parts/Plain";

interface Entered {
  id: string;
  name: string;
}

type End = "body" | "lens" | "ring";

/** What was entered so far stands in the address: one can leave, and come back to it. */
function useEntered() {
  const [words, setWords] = useSearchParams();
  const [names, setNames] = useState<Record<string, string>>({});
  const here = useRef(true);
  useEffect(() => {
    here.current = true;
    return () => {
      here.current = false;
    };
  }, []);
  const known = (end: End) => names[words.get(end) ?? ""];
  const body = useNamed("body", words.get("body"), known("body")).named;
  const lens = useNamed("lens", words.get("lens"), known("lens")).named;
  const ring = useNamed("ring", words.get("ring"), known("ring")).named;
  const set = (end: End, entered: Entered | null) => {
    // Whoever went on while it was kept is not called back.
    if (!here.current) return;
    const next = new URLSearchParams(words);
    if (entered) next.set(end, entered.id);
    else next.delete(end);
    // A ring joins these two and no others.
    if (end !== "ring") next.delete("ring");
    if (entered) setNames({ ...names, [entered.id]: entered.name });
    setWords(next, { replace: true });
  };
  return { body, lens, ring, set };
}

/** Enter what I have: the body, the lens, and what joins them. Nothing is asked that one cannot know. */
export default function Begin() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const { own: practice } = usePractices();
  const mounts = useQuery(mountsQuery(practice));
  const { body, lens, ring, set } = useEntered();
  const known = mounts.data?.systems ?? [];
  const stage = !body ? "body" : !lens ? "lens" : ring ? "done" : "join";
  useScreen({
    title: "Enter what I have",
    answer: mounts.isSuccess ? `begin ${stage}` : undefined,
    className: "begin",
    keys: { l: () => void navigate("/"), k: () => void navigate("/kit") },
  });
  /** What was entered changes what is known. */
  const took = async (end: End, entered: Entered) => {
    set(end, entered);
    await queries.invalidateQueries({ predicate: (query) => !about("schema")(query) });
  };
  return (
    <>
      <div className="kit-head">
        <h1>What I have</h1>
        <UndoBar />
      </div>
      <ol className="begin-steps">
        <li data-done={body !== null}>
          <h2>{body?.name ?? "My camera body"}</h2>
          {!body && (
            <BodyForm
              known={known}
              next={lens ? "See what they come to" : "Next: the lens"}
              save={async (new_) => {
                await took("body", unwrap(await client.POST("/api/v1/begin/body", { body: new_ })));
              }}
            />
          )}
        </li>
        <li data-done={lens !== null}>
          <h2>{lens?.name ?? "My lens"}</h2>
          {body && !lens && (
            <LensForm
              known={known}
              save={async (new_) => {
                await took("lens", unwrap(await client.POST("/api/v1/begin/lens", { body: new_ })));
              }}
            />
          )}
        </li>
        <li data-done={ring !== null}>
          <h2>{ring?.name ?? "What joins them"}</h2>
          {body && lens && (
            <Verdict
              body={body}
              lens={lens}
              joined={ring !== null}
              onAgain={(end) => set(end, null)}
              save={async (length) => {
                const new_ = { lens: lens.id, body: body.id, length_mm: length };
                await took("ring", unwrap(await client.POST("/api/v1/begin/ring", { body: new_ })));
              }}
            />
          )}
        </li>
      </ol>
      {stage === "body" && (
        <p className="route-gives">
          Or <Link to="/begin/lenses">add many lenses at once</Link>, or <Link to="/files">load a file</Link>.
          Everything can be changed later, in the kit.
        </p>
      )}
    </>
  );
}

interface VerdictProps {
  body: Entered;
  lens: Entered;
  joined: boolean;
  onAgain: (end: End) => void;
  save: (length: number | null) => Promise<void>;
}

/** What the two come to, as they are; and the ring between them, if one has it. */
function Verdict({ body, lens, joined, onAgain, save }: VerdictProps) {
  const { own: practice } = usePractices();
  const found = useQuery(matchQuery({ lens: lens.id, body: body.id, practice }));
  if (found.isError) return <Failed error={found.error} onRetry={() => void found.refetch()} />;
  if (!found.data) return null;
  const report = found.data;
  const route = report.open;
  const listed = report.works ? route : null;
  const path = `/?lens=${lens.id}&body=${body.id}`;
  const { gap_mm: gap } = report;
  return (
    <div data-state="verdict" data-grade={route?.grade ?? "nothing"}>
      <p className="begin-verdict" role="status">
        {route || gap !== null ? <GradeMark grade={route?.grade ?? "none"} size={30} /> : <UnknownMark size={30} />}
        <span>
          {route && <span className="grade-word">{`${gradeTitle(route.grade)}. `}</span>}
          {unbroken(listed ? listed.sentence : report.sentence)}
        </span>
      </p>
      {gap === null && <DistanceRange lens={lens.id} body={body.id} practice={practice} />}
      {!joined && !report.works && <RingForm room={gap !== null && gap > 0 ? mm(gap) : ""} save={save} />}
      <p className="message-actions">
        <Link className="begin-look" to={path}>
          See it drawn
        </Link>
        <Link to={`/setup?lens=${lens.id}&body=${body.id}&via=${viaOf(route?.adapters)}`}>The card</Link>
        <Link to="/plan">What to buy</Link>
        <Plain className="unfold" onClick={() => onAgain("lens")}>
          Another lens
        </Plain>
        <Plain className="unfold" onClick={() => onAgain("body")}>
          Another body
        </Plain>
        <Link to="/begin/lenses">Many lenses</Link>
      </p>
    </div>
  );
}
