import "./InPocket.css";

import Button from "antd/es/button";
import { Link, useSearchParams } from "react-router";

import { useScreen } from "../../app/screen";
import { moment } from "../../parts/format";
import { Views } from "../../parts/Views";
import { CARRIES } from "../../pocket/away";
import { replaceCarried, seenChanges } from "../../pocket/carrying";
import { useCarried } from "../../pocket/hooks";
import type { Pocket } from "../../pocket/store";
import { changesSince, countChanges } from "./changes";
import { HELP } from "./help";
import { PocketCards } from "./PocketCards";
import { PocketFits } from "./PocketFits";
import { PocketKey } from "./PocketKey";
import { PocketOutings } from "./PocketOutings";

const VIEWS = [
  { view: "fit", name: "Would it fit?" },
  { view: "key", name: "Key" },
  { view: "cards", name: "Cards" },
  { view: "outings", name: "Outings" },
] as const;

type View = (typeof VIEWS)[number]["view"];

/** What is carried, looked up without the machine: in a shop, in the nave. */
export default function InPocket() {
  const [address] = useSearchParams();
  const { pocket, making } = useCarried();
  const view: View = VIEWS.find((one) => one.view === address.get("view"))?.view ?? "fit";
  useScreen({
    title: "In the pocket",
    answer: pocket ? `pocket ${view}` : CARRIES ? undefined : "pocket none",
    busy: pocket === null && CARRIES,
    className: "in-pocket",
    help: HELP,
  });
  if (!CARRIES) return <OnTheMachine />;
  return (
    <div className="pocket-page">
      <AsOf />
      {pocket ? (
        <>
          <Views
            label="What is carried"
            views={VIEWS}
            current={view}
            addressOf={(to) => `/pocket?${new URLSearchParams({ view: to })}`}
            beside={{ path: "/log", name: "Log" }}
          />
          <Shown pocket={pocket} view={view} />
        </>
      ) : (
        <div className="message" data-state={making ? "making" : "nothing"}>
          <h1>{making ? "It is gathered on the machine." : "Nothing is carried yet."}</h1>
          {making ? (
            <progress value={making[0]} max={making[1] || 1} aria-label="How far it is" />
          ) : (
            <p>As soon as the machine answers, what you look up in a shop is gathered and kept here.</p>
          )}
        </div>
      )}
    </div>
  );
}

function Shown({ pocket, view }: { pocket: Pocket; view: View }) {
  const { before } = useCarried();
  const changes = changesSince(before);
  if (view === "key") return <PocketKey pocket={pocket} />;
  if (view === "cards") return <PocketCards pocket={pocket} changes={changes} />;
  if (view === "outings") return <PocketOutings pocket={pocket} changes={changes} />;
  return <PocketFits pocket={pocket} changes={changes} />;
}

/** Of when it is, whether the next one is on its way, and what became otherwise. */
function AsOf() {
  const { pocket, before, making, other, failed } = useCarried();
  const changed = pocket && before ? countChanges(pocket, before) : 0;
  return (
    <div className="pocket-as-of" role="status">
      {pocket && (
        <p>{`As of ${moment(pocket.made_at)}${making ? `; a newer one is gathered, ${making[0]} of ${making[1]}` : ""}`}</p>
      )}
      {pocket && pocket.left_out.length > 0 && <p>{`Not carried, to stay small: ${pocket.left_out.join("; ")}.`}</p>}
      {failed && <p className="problem-line">{failed}</p>}
      {other && (
        <p>
          {"The machine serves another collection now; this is of the one before. "}
          <Button size="small" onClick={() => void replaceCarried()}>
            Carry the other one
          </Button>
        </p>
      )}
      {before && (
        <p data-changed={changed}>
          {changed === 0
            ? "Nothing that is carried became otherwise. "
            : `${changed} ${changed === 1 ? "answer is" : "answers are"} others than before, and marked. `}
          <Button size="small" onClick={() => void seenChanges()}>
            Seen
          </Button>
        </p>
      )}
    </div>
  );
}

/** The machine itself computes; carrying is for a phone. */
function OnTheMachine() {
  return (
    <div className="message" data-state="on-the-machine">
      <h1>This is for a phone.</h1>
      <p>
        A paired phone carries what you look up in a shop and in the nave: what would fit, the key, cards, packing
        lists, the log. This machine computes all of that itself.
      </p>
      <p className="message-actions">
        <Link to="/devices">Pair a phone</Link>
        <Link to="/fit">Would it fit?</Link>
      </p>
    </div>
  );
}
