import { useQuery } from "@tanstack/react-query";
import { useEffect, useEffectEvent, useRef } from "react";
import { Link, useLocation } from "react-router";

import { type FieldProblem, type ItemPage, ProblemError } from "../../api/client";
import { type Kind, shelfQuery } from "../../api/queries";
import type { Chosen } from "../../app/practice";
import { useKeys } from "../../app/useKeys";
import { type Fields, type Schema, trimmed } from "../../parts/fields";
import { KIND_WORDS } from "../../parts/labels";
import { Said } from "../../parts/Said";
import { Conflict } from "./Conflict";
import { EffectNote } from "./EffectNote";
import { FieldGroup } from "./FieldGroup";
import { GROUPS } from "./groups";
import { InUse, PaneHead } from "./PaneHead";
import { PaneDrawing } from "./PaneDrawing";
import { useSteady } from "../../parts/useSteady";
import { useChoices } from "./useChoices";
import { type Item, useItem, useLeaving } from "./useItem";
import { UsualNote } from "./UsualNote";

interface Props {
  kind: Kind;
  id: string;
  begin: Fields;
  practice: Chosen;
  page: ItemPage | null;
  root: Schema;
  onOpen: (id: string | null, begin?: Fields) => void;
  onKept: (name: string) => boolean;
}

const DEFS: Record<Kind, string> = {
  lenses: "Lens",
  bodies: "Body",
  adapters: "Adapter",
  mounts: "Mount",
  accessories: "Accessory",
  foils: "Foil",
  pairs: "Pair",
  protocols: "Protocol",
  rigs: "SavedRig",
};
// What a change of these does to the grades is told as it is written.
const JUDGED = new Set<Kind>(["lenses", "bodies", "adapters", "mounts"]);
// Kept by the program itself, or shown elsewhere.
const HIDDEN = new Set(["id", "retired", "assumed", "grade", "graded_on"]);

/** The form of one item: what it looks like, what a change does, and all its fields. */
export function ItemForm(props: Props) {
  const { kind, id, practice, page, root, onOpen } = props;
  const item = useItem(props);
  const leaving = useLeaving(props, item.drop);
  const { isNew, changed } = item;
  const model = root.$defs?.[DEFS[kind]];
  const properties = model?.properties ?? {};
  const pane = useRef<HTMLElement>(null);
  const copy = () => {
    const rest = Object.fromEntries(Object.entries(item.item).filter(([key]) => key !== "id"));
    const told = typeof item.item.name === "string" ? item.item.name : "";
    onOpen("new", { ...rest, name: `${told} copy`.trim() });
  };
  useKeys(() => (isNew ? {} : { c: copy }));
  useSaveKey(item.submit);
  // What was refused stands on top: it must not be missed.
  const trouble = item.save.isError || leaving.remove.isError;
  useEffect(() => {
    if (trouble) pane.current?.scrollTo({ top: 0 });
  }, [trouble]);

  const choices = useChoices(kind, item.item);
  const set = useSteady(item.set);
  const seated = kind === "lenses" || kind === "bodies" || kind === "adapters";
  const mounts = useQuery({ ...shelfQuery("mounts"), enabled: seated });
  const nominal = mounts.data?.rows.find((row) => row.id === item.item.mount)?.width_mm ?? null;
  const problems = problemsOf(item);
  const name = typeof item.item.name === "string" && item.item.name ? item.item.name : `New ${KIND_WORDS[kind].one}`;
  return (
    <article ref={pane} className="pane" data-item={id} data-changed={changed}>
      <PaneHead kind={kind} id={id} name={name} item={item} leaving={leaving} onCopy={copy} onOpen={onOpen} />
      <Troubles {...props} name={name} item={item} leaving={leaving} problems={problems} properties={properties} />
      <PaneDrawing kind={kind} item={item.item} nominal={nominal} />
      {JUDGED.has(kind) && (changed || isNew) && (
        <EffectNote
          kind={kind}
          item={{ ...item.item, ...(isNew ? {} : { id }) }}
          required={model?.required ?? []}
          practice={practice}
        />
      )}
      {seated && mounts.data?.rows.length === 0 && <NoMounts />}
      {isNew && <UsualNote kind={kind} item={item.item} onTake={item.take} />}
      <form
        onSubmit={(event) => {
          event.preventDefault();
          item.submit();
        }}
      >
        {groupsOf(kind, properties).map((group) => (
          <FieldGroup
            key={group.title}
            group={group}
            kind={kind}
            root={root}
            properties={properties}
            item={item}
            set={set}
            choices={choices}
            problems={problems}
          />
        ))}
      </form>
      {page && <Said witnessed={page.witnessed} own={id} />}
      {page && <NeededBy users={page.users} />}
    </article>
  );
}

function groupsOf(kind: Kind, properties: Record<string, Schema>) {
  const named = GROUPS[kind].flatMap(({ fields }) => fields);
  const rest = Object.keys(properties).filter((key) => !named.includes(key) && !HIDDEN.has(key));
  return [...GROUPS[kind], ...(rest.length ? [{ title: "The rest", fields: rest }] : [])];
}

/** What the server found wrong, by field. */
function problemsOf({ save, refused }: Item): ReadonlyMap<string, FieldProblem> {
  const errors = save.error instanceof ProblemError && !refused ? save.error.problem.errors : [];
  return new Map(errors.map((one) => [one.place.split(/[.[]/)[0] ?? "", one]));
}

function useSaveKey(submit: () => void): void {
  const pressed = useEffectEvent((event: KeyboardEvent) => {
    if ((event.ctrlKey || event.metaKey) && event.key === "s") {
      event.preventDefault();
      submit();
    }
  });
  useEffect(() => {
    const listener = (event: KeyboardEvent) => pressed(event);
    window.addEventListener("keydown", listener);
    return () => window.removeEventListener("keydown", listener);
  }, []);
}

interface TroubleProps extends Props {
  name: string;
  item: Item;
  leaving: ReturnType<typeof useLeaving>;
  problems: ReadonlyMap<string, FieldProblem>;
  properties: Record<string, Schema>;
}

/** What stands in the way: who needs it, what was refused, what somebody else wrote meanwhile. */
function Troubles({ kind, page, onOpen, name, item, leaving, problems, properties }: TroubleProps) {
  const { retire, remove, inUse } = leaving;
  const { save, refused, stale } = item;
  const elsewhere = save.isError && !refused && [...problems.keys()].every((key) => !(key in properties));
  return (
    <>
      {inUse && <InUse kind={kind} name={name} problem={inUse} leaving={leaving} />}
      {[inUse ? null : remove.error, retire.error].map((error, index) =>
        error ? (
          <p key={index} role="alert" className="problem-line">
            {error.message}
          </p>
        ) : null,
      )}
      {(refused ?? stale) && (
        <Conflict
          key={refused?.problem.version ?? page?.version ?? 0}
          base={item.draft.base ?? {}}
          mine={trimmed(item.item)}
          theirs={refused ? (refused.problem.current ?? null) : (page?.item ?? null)}
          onTake={(fields) =>
            save.mutate({ fields, version: refused ? (refused.problem.version ?? 0) : (page?.version ?? 0) })
          }
          onDrop={() => {
            item.drop();
            item.reload();
            if (refused?.problem.current === null) onOpen(null);
          }}
        />
      )}
      {elsewhere && (
        <div role="alert" className="problems">
          <p>{save.error.message}</p>
          {[...problems.values()].map((one) => (
            <p key={one.place}>{`${one.place}: ${one.message}`}</p>
          ))}
        </div>
      )}
    </>
  );
}

function NoMounts() {
  const { pathname, search } = useLocation();
  const back = new URLSearchParams({ item: "new", back: pathname + search });
  return (
    <p className="conflict" data-state="no-mounts">
      {"No mount system is known yet, and this needs one: "}
      <Link to={`/kit/mounts?${back.toString()}`}>add it first</Link>, or <Link to="/files">import a gear file</Link>.
    </p>
  );
}

function NeededBy({ users }: { users: ItemPage["users"] }) {
  if (users.length === 0) return null;
  return (
    <section>
      <h3>Needed by</h3>
      <ul className="held">
        {users.slice(0, 8).map((user) => (
          <li key={`${user.kind} ${user.id} ${user.how}`}>
            <Link to={`/kit/${user.kind}?item=${user.id}`}>{user.name}</Link>
            <span className="route-gives">{user.how}</span>
          </li>
        ))}
      </ul>
      {users.length > 8 && <p className="route-gives">{`and ${users.length - 8} more`}</p>}
    </section>
  );
}
