import "./Begin.css";

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";

import { client, unwrap } from "../../api/client";
import { matchQuery, mountsQuery } from "../../api/queries";
import { usePractices } from "../../app/Practices";
import { useScreen } from "../../app/screen";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { mm, unbroken } from "../../parts/format";
import { viaOf } from "../../parts/rig";
import { UndoBar } from "../../parts/UndoBar";
import { BodyForm } from "./BodyForm";
import { LensForm } from "./LensForm";
import { RingForm } from "./RingForm";

interface Entered {
  id: string;
  name: string;
}

/** Enter what I have: the body, the lens, and what joins them. Nothing is asked that one cannot know. */
export default function Begin() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const { own: practice } = usePractices();
  const mounts = useQuery(mountsQuery(practice));
  const [body, setBody] = useState<Entered | null>(null);
  const [lens, setLens] = useState<Entered | null>(null);
  const [ring, setRing] = useState<Entered | null>(null);
  const known = mounts.data?.systems ?? [];
  const stage = !body ? "body" : !lens ? "lens" : ring ? "done" : "join";
  useScreen({
    title: "Enter what I have",
    answer: mounts.isSuccess ? `begin ${stage}` : undefined,
    className: "begin",
    keys: { l: () => void navigate("/"), k: () => void navigate("/kit") },
  });
  /** What was entered changes what is known. */
  const took = (set: (entered: Entered) => void) => async (entered: Entered) => {
    set(entered);
    await queries.invalidateQueries({ predicate: ({ queryKey: [first] }) => first !== "schema" });
  };
  return (
    <>
      <div className="kit-head">
        <h1>What I have</h1>
        <UndoBar />
      </div>
      <ol className="begin-steps">
        <li data-done={body !== null}>
          <h2>{body ? body.name : "My camera body"}</h2>
          {!body && (
            <BodyForm
              known={known}
              save={async (new_) => {
                await took(setBody)(unwrap(await client.POST("/api/v1/begin/body", { body: new_ })));
              }}
            />
          )}
        </li>
        <li data-done={lens !== null}>
          <h2>{lens ? lens.name : "My lens"}</h2>
          {body && !lens && (
            <LensForm
              known={known}
              save={async (new_) => {
                await took(setLens)(unwrap(await client.POST("/api/v1/begin/lens", { body: new_ })));
              }}
            />
          )}
        </li>
        <li data-done={ring !== null}>
          <h2>{ring ? ring.name : "What joins them"}</h2>
          {body && lens && (
            <Verdict
              body={body}
              lens={lens}
              joined={ring !== null}
              onAgain={() => {
                setBody(null);
                setLens(null);
                setRing(null);
              }}
              save={async (length) => {
                const new_ = { lens: lens.id, body: body.id, length_mm: length };
                await took(setRing)(unwrap(await client.POST("/api/v1/begin/ring", { body: new_ })));
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
  onAgain: () => void;
  save: (length: number | null) => Promise<void>;
}

/** What the two come to, as they are; and the ring between them, if one has it. */
function Verdict({ body, lens, joined, onAgain, save }: VerdictProps) {
  const { own: practice } = usePractices();
  const found = useQuery(matchQuery({ lens: lens.id, body: body.id, practice }));
  if (!found.data) return null;
  const report = found.data;
  const listed = report.works ? report.routes[0] : undefined;
  const route = listed ?? report.unlisted ?? report.routes[0];
  const path = `/?lens=${lens.id}&body=${body.id}`;
  return (
    <div data-state="verdict" data-grade={route?.grade ?? "nothing"}>
      <p className="begin-verdict" role="status">
        <GradeMark grade={route?.grade ?? "none"} size={30} />
        <span>
          {route && <span className="grade-word">{`${gradeTitle(route.grade)}. `}</span>}
          {unbroken(listed ? listed.sentence : report.sentence)}
        </span>
      </p>
      {!joined && !report.works && <RingForm room={report.gap_mm > 0 ? mm(report.gap_mm) : ""} save={save} />}
      <p className="message-actions">
        <Link className="begin-look" to={path}>
          See it drawn
        </Link>
        <Link to={`/setup?lens=${lens.id}&body=${body.id}&via=${viaOf(route?.adapters)}`}>The card</Link>
        <Link to="/plan">What to buy</Link>
        <Link to="/begin/lenses">More lenses</Link>
        <button type="button" className="unfold" onClick={onAgain}>
          Another body
        </button>
      </p>
    </div>
  );
}
