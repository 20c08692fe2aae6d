import "./PaneHead.css";

import Button from "antd/es/button";
import { Link } from "react-router";

import type { Problem } from "../../api/client";
import type { Kind } from "../../api/queries";
import { AwaySaid } from "../../parts/Away";
import type { Fields } from "../../parts/fields";
import { KIND_WORDS } from "../../parts/labels";
import type { Item, useLeaving } from "./useItem";

interface Props {
  kind: Kind;
  id: string;
  name: string;
  item: Item;
  leaving: ReturnType<typeof useLeaving>;
  onCopy: () => void;
  onOpen: (id: string | null, begin?: Fields) => void;
}

/** The name of an item, and what can be done with it. */
export function PaneHead({ kind, id, name, item, leaving, onCopy, onOpen }: Props) {
  const { isNew, changed, save } = item;
  const { retire, remove } = leaving;
  const retired = item.item.retired === true;
  return (
    <header className="pane-head">
      <h2>{name}</h2>
      <p className="pane-actions">
        <Button type="primary" disabled={!changed} loading={save.isPending} onClick={item.submit}>
          {isNew ? "Add it" : "Save"}
        </Button>
        {(changed || item.unsaved) && (
          <Button
            onClick={() => {
              item.drop();
              if (isNew) onOpen(null);
            }}
          >
            {isNew ? "Cancel" : "Discard changes"}
          </Button>
        )}
        {!isNew && <Button onClick={onCopy}>Copy as new</Button>}
        {!isNew && kind !== "rigs" && !changed && (
          <Button loading={retire.isPending} onClick={() => retire.mutate(!retired)}>
            {retired ? "Restore from the archive" : "Archive"}
          </Button>
        )}
        {!isNew && !changed && (
          <Button danger loading={remove.isPending} onClick={() => remove.mutate()}>
            Remove
          </Button>
        )}
        {!isNew && hasRecord(kind) && <Link to={`/log/record/${kind}/${id}`}>Its record</Link>}
        {!isNew && onBench(kind) && <Link to={`/bench?piece=${kind}:${id}&view=measure`}>On the bench</Link>}
        {!isNew && kind === "lenses" && !item.item.mount && (
          <span className="route-gives">No mount: nothing joins it yet.</span>
        )}
        {!isNew && (kind === "lenses" || kind === "bodies") && Boolean(item.item.mount) && (
          <Link to={`/?${KIND_WORDS[kind].one}=${id}`}>To the light path</Link>
        )}
        {!isNew && kind === "mounts" && <Link to={`/mounts/${id}`}>The mount system</Link>}
        <Button type="text" className="pane-close" aria-label="Close" onClick={() => onOpen(null)}>
          ✕
        </Button>
      </p>
      {!isNew && (
        <p>
          <AwaySaid id={id} />
        </p>
      )}
      {retired && <p className="route-gives">Archived: kept, and no longer offered.</p>}
    </header>
  );
}

const hasRecord = (kind: Kind) => kind === "lenses" || kind === "bodies" || kind === "adapters";

/** Who needs an item that was to go, and what can be done instead. */
export function InUse({
  kind,
  name,
  problem,
  leaving,
}: {
  kind: Kind;
  name: string;
  problem: Problem;
  leaving: Props["leaving"];
}) {
  const { retire, remove } = leaving;
  return (
    <div className="conflict-box" role="alert" data-state="in-use">
      <h3>{`${name} is in use.`}</h3>
      <p>Nothing was removed. It is needed by:</p>
      <ul className="bulleted">
        {problem.users.slice(0, 12).map((user) => (
          <li key={`${user.kind} ${user.id}`}>
            <Link to={`/kit/${user.kind}?item=${user.id}`}>{user.name}</Link> {user.how}
          </li>
        ))}
        {problem.users.length > 12 && <li>{`and ${problem.users.length - 12} more`}</li>}
      </ul>
      <p className="message-actions">
        {kind !== "rigs" && (
          <Button
            type="primary"
            onClick={() => {
              remove.reset();
              retire.mutate(true);
            }}
          >
            Archive it instead
          </Button>
        )}
        <Button onClick={() => remove.reset()}>Cancel</Button>
      </p>
    </div>
  );
}

/** What can be measured there. */
const onBench = (kind: Kind) => kind === "adapters" || kind === "bodies" || kind === "lenses";
