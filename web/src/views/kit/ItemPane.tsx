import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import { useEffect, useMemo, useRef, useState } from "react";
import { Link } from "react-router";

import { client, type ItemPage, ProblemError, type Shelf, unwrap } from "../../api/client";
import { gearSchemaQuery, type Kind, kitItemQuery, shelfQuery, usualQuery } from "../../api/queries";
import type { Chosen } from "../../app/practice";
import { useKeys } from "../../app/useKeys";
import { Failed } from "../light-path/States";
import { Conflict } from "./Conflict";
import { EffectNote } from "./EffectNote";
import { type Choices, FieldInput, type Option } from "./FieldInput";
import { GROUPS, KIND_WORDS, LABELS } from "./fields";
import { type Fields, resolve, same, type Schema, trimmed, worded } from "./schema";
import { PaneDrawing } from "./PaneDrawing";
import { Said } from "./Said";
import { type Draft, useDraft } from "./useDraft";

interface Props {
  kind: Kind;
  /** An id; "new" for one that is to be added. */
  id: string;
  /** What a new item begins with. */
  begin: Fields;
  practice: Chosen;
  onOpen: (id: string | null, begin?: Fields) => void;
}

const DEFS: Record<Kind, string> = { lenses: "Lens", bodies: "Body", adapters: "Adapter", mounts: "Mount", protocols: "Protocol", rigs: "Rig" };
// These say how an item is kept, not what it is: nobody assumes them.
const NEVER_ASSUMED = new Set(["id", "name", "aliases", "notes", "owned", "borrowed", "retired", "assumed", "evidence", "character", "measured_on"]);
// Kept by the program itself, or shown elsewhere.
const HIDDEN = new Set(["id", "retired", "assumed", "grade", "graded_on"]);

/** One item: looked at, edited in place, copied, retired; a new one is added with the same form. */
export function ItemPane(props: Props) {
  const { kind, id } = props;
  const isNew = id === "new";
  const page = useQuery({ ...kitItemQuery(kind, id), enabled: !isNew });
  const schema = useQuery(gearSchemaQuery);
  if (page.error instanceof ProblemError && page.error.problem.status === 404) {
    return (
      <div className="pane message" role="alert" data-state="gone">
        <h2>{`There is no ${KIND_WORDS[kind].one} of this id.`}</h2>
        <p className="message-actions">
          {page.error.problem.near.map((near) => (
            <Button key={near} onClick={() => { props.onOpen(near); }}>{near}</Button>
          ))}
          <Button type="primary" onClick={() => { props.onOpen(null); }}>To the shelf</Button>
        </p>
      </div>
    );
  }
  const error = page.error ?? schema.error;
  if (error) return <Failed error={error} onRetry={() => { void page.refetch(); void schema.refetch(); }} />;
  if (!schema.data || (!isNew && !page.data)) return <div className="pane skeleton" aria-busy="true" />;
  return <Form key={`${kind} ${id}`} {...props} page={page.data ?? null} root={schema.data} />;
}

function Form({ kind, id, begin, practice, onOpen, page, root }: Props & { page: ItemPage | null; root: Schema }) {
  const queries = useQueryClient();
  const isNew = page === null;
  // Copies, labels and plain new items are drafts of their own.
  const [kept, keep] = useDraft(isNew ? `${kind} new ${JSON.stringify(begin)}` : `${kind} ${id}`);
  const stands = useMemo<Draft>(() => ({ item: page?.item ?? begin, base: page?.item ?? null, version: page?.version ?? 0 }), [page, begin]);
  const draft = kept ?? stands;
  const { item } = draft;
  const changed = isNew ? Object.keys(trimmed(item)).length > 0 : !same(trimmed(item), stands.item);
  // Another window saved it since the draft was begun.
  const [refused, setRefused] = useState<ProblemError | null>(null);
  const stale = kept !== null && page !== null && kept.version !== page.version;
  const model = root.$defs?.[DEFS[kind]];
  const properties = model?.properties ?? {};
  const pane = useRef<HTMLElement>(null);

  const set = (key: string, value: unknown, assumed = false) => {
    const doubted = new Set((item.assumed as string[] | undefined) ?? []);
    if (assumed) doubted.add(key);
    else doubted.delete(key);
    const next: Fields = { ...item, [key]: value };
    if (value === null || value === undefined || value === "" || (Array.isArray(value) && value.length === 0)) {
      // eslint-disable-next-line @typescript-eslint/no-dynamic-delete
      delete next[key];
      doubted.delete(key);
    }
    if (doubted.size) next.assumed = [...doubted];
    else delete next.assumed;
    keep({ ...draft, item: next });
  };

  const saved = async (next: ItemPage) => {
    keep(null);
    setRefused(null);
    queries.setQueryData(kitItemQuery(kind, next.id).queryKey, next);
    // The item just written is known: it is the rest that has to be asked for again.
    await queries.invalidateQueries({ predicate: (query) => query.queryKey[0] !== "schema" && !(query.queryKey[1] === "item" && query.queryKey[3] === next.id) });
    if (isNew) onOpen(next.id);
  };
  const save = useMutation({
    mutationFn: async ({ fields, version }: { fields: Fields; version: number }) => {
      const body = trimmed(fields);
      return version === 0
        ? unwrap(await client.POST("/api/v1/kit/{kind}/items", { params: { path: { kind } }, body: { item: body } }))
        : unwrap(await client.PUT("/api/v1/kit/{kind}/items/{id}", { params: { path: { kind, id } }, body: { item: body, version } }));
    },
    onSuccess: saved,
    onError: (error) => {
      if (error instanceof ProblemError && error.problem.title === "Changed meanwhile") setRefused(error);
    },
  });
  const retire = useMutation({
    mutationFn: async (retired: boolean) => {
      if (kind === "rigs") throw new Error("a rig is removed, not retired");
      return unwrap(await client.POST("/api/v1/kit/{kind}/retire", { params: { path: { kind } }, body: { ids: [id], retired } }));
    },
    onSuccess: async () => { await queries.invalidateQueries(); },
  });
  const remove = useMutation({
    mutationFn: async () =>
      unwrap(await client.DELETE("/api/v1/kit/{kind}/items/{id}", { params: { path: { kind, id }, query: { version: page?.version ?? 1 } } })),
    onSuccess: async () => {
      keep(null);
      onOpen(null);
      await queries.invalidateQueries();
    },
  });
  // What was refused stands on top: it must not be missed.
  const trouble = save.isError || remove.isError;
  useEffect(() => {
    if (trouble) pane.current?.scrollTo({ top: 0 });
  }, [trouble]);
  const submit = () => {
    if (changed && !save.isPending) save.mutate({ fields: item, version: draft.version });
  };
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key === "s") {
        event.preventDefault();
        submit();
      }
    };
    window.addEventListener("keydown", pressed);
    return () => { window.removeEventListener("keydown", pressed); };
  });
  const copy = () => {
    const rest = Object.fromEntries(Object.entries(item).filter(([key]) => key !== "id"));
    onOpen("new", { ...rest, name: `${typeof item.name === "string" ? item.name : ""} copy`.trim() });
  };
  useKeys({ c: () => { if (!isNew) copy(); } });

  const choices = useChoices(kind, item);
  const seated = kind === "lenses" || kind === "bodies" || kind === "adapters";
  const mounts = useQuery({ ...shelfQuery("mounts"), enabled: seated });
  const nominal = mounts.data?.rows.find((row) => row.id === item.mount)?.width_mm ?? null;
  const usual = useUsual(kind, item, isNew);
  const named = GROUPS[kind].flatMap(({ fields }) => fields);
  const rest = Object.keys(properties).filter((key) => !named.includes(key) && !HIDDEN.has(key));
  const groups = [...GROUPS[kind], ...(rest.length ? [{ title: "The rest", fields: rest }] : [])];
  const problems = new Map(
    (save.error instanceof ProblemError && !refused ? save.error.problem.errors : []).map((one) => [one.place.split(/[.[]/)[0] ?? "", one]),
  );
  const elsewhere = save.isError && !refused && [...problems.keys()].every((key) => !(key in properties));
  const doubted = new Set((item.assumed as string[] | undefined) ?? []);
  const retired = item.retired === true;
  const name = typeof item.name === "string" && item.name ? item.name : `New ${KIND_WORDS[kind].one}`;
  const inUse = remove.error instanceof ProblemError && remove.error.problem.users.length > 0 ? remove.error.problem : null;
  return (
    <article ref={pane} className="pane" data-item={id} data-changed={changed}>
      <header className="pane-head">
        <h2>{name}</h2>
        <p className="pane-actions">
          <Button type="primary" disabled={!changed} loading={save.isPending} onClick={submit}>
            {isNew ? "Add it" : "Save"}
          </Button>
          {(changed || kept) && (
            <Button onClick={() => { keep(null); setRefused(null); save.reset(); if (isNew) onOpen(null); }}>{isNew ? "Leave it" : "Discard changes"}</Button>
          )}
          {!isNew && <Button onClick={copy}>Copy as new</Button>}
          {!isNew && kind !== "rigs" && !changed && (
            <Button loading={retire.isPending} onClick={() => { retire.mutate(!retired); }}>{retired ? "Bring back" : "Retire"}</Button>
          )}
          {!isNew && !changed && (
            <Button danger loading={remove.isPending} onClick={() => { remove.mutate(); }}>Remove</Button>
          )}
          {!isNew && (kind === "lenses" || kind === "bodies") && <Link to={`/?${KIND_WORDS[kind].one}=${id}`}>To the light path</Link>}
          {!isNew && kind === "mounts" && <Link to={`/mounts/${id}`}>See it whole</Link>}
          <Button type="text" className="pane-close" aria-label="Close" onClick={() => { onOpen(null); }}>✕</Button>
        </p>
        {retired && <p className="route-gives">Retired: it is kept, and no longer offered.</p>}
      </header>
      {inUse && (
        <div className="conflict-box" role="alert" data-state="in-use">
          <h3>{`${name} is in use.`}</h3>
          <p>Nothing was removed. It is needed by:</p>
          <ul>
            {inUse.users.slice(0, 12).map((user) => (
              <li key={`${user.kind} ${user.id}`}>
                <Link to={`/kit/${user.kind}?item=${user.id}`}>{user.name}</Link> {user.how}
              </li>
            ))}
            {inUse.users.length > 12 && <li>{`and ${inUse.users.length - 12} more`}</li>}
          </ul>
          <p className="message-actions">
            {kind !== "rigs" && <Button type="primary" onClick={() => { remove.reset(); retire.mutate(true); }}>Retire it instead</Button>}
            <Button onClick={() => { remove.reset(); }}>Leave it as it is</Button>
          </p>
        </div>
      )}
      {remove.isError && !inUse && <p role="alert" className="problem-line">{remove.error.message}</p>}
      {retire.isError && <p role="alert" className="problem-line">{retire.error.message}</p>}
      {(refused ?? stale) && (
        <Conflict
          key={refused?.problem.version ?? page?.version ?? 0}
          base={draft.base ?? {}}
          mine={trimmed(item)}
          theirs={refused ? (refused.problem.current ?? null) : (page?.item ?? null)}
          onTake={(fields) => {
            const version = refused ? (refused.problem.version ?? 0) : (page?.version ?? 0);
            save.mutate({ fields, version });
          }}
          onDrop={() => {
            keep(null);
            setRefused(null);
            void queries.invalidateQueries();
            if (refused?.problem.current === null) onOpen(null);
          }}
        />
      )}
      {elsewhere && (
        <div role="alert" className="problems">
          <p>{save.error.message}</p>
          {[...problems.values()].map((one) => <p key={one.place}>{`${one.place}: ${one.message}`}</p>)}
        </div>
      )}
      <PaneDrawing kind={kind} item={item} nominal={nominal} />
      {kind !== "protocols" && kind !== "rigs" && (changed || isNew) && <EffectNote kind={kind} item={{ ...item, ...(isNew ? {} : { id }) }} required={model?.required ?? []} practice={practice} />}
      {seated && mounts.data?.rows.length === 0 && (
        <p className="conflict" data-state="no-mounts">
          {"No mount system is known yet, and this needs one: "}
          <Link to="/kit/mounts?item=new">add it first</Link>, or <Link to="/files">bring in a gear file</Link>.
        </p>
      )}
      {usual && usual.length > 0 && (
        <div className="usual">
          <p>
            {"Usual here: "}
            {usual.map((one) => `${(LABELS[one.field] ?? worded(one.field).label).toLowerCase()} ${Array.isArray(one.value) ? one.value.join(", ") : String(one.value)}`).join("; ")}.
          </p>
          <Button
            size="small"
            onClick={() => {
              const doubts = new Set([...doubted, ...usual.filter((one) => !one.sure).map(({ field }) => field)]);
              keep({ ...draft, item: { ...item, ...Object.fromEntries(usual.map(({ field, value }) => [field, value])), ...(doubts.size ? { assumed: [...doubts] } : {}) } });
            }}
          >
            {`Take ${usual.length === 1 ? "it" : `these ${usual.length}`}, marked as assumed`}
          </Button>
        </div>
      )}
      <form
        onSubmit={(event) => {
          event.preventDefault();
          submit();
        }}
      >
        {groups.map((group) => {
          const fields = group.fields.filter((key) => key in properties);
          const filled = fields.filter((key) => item[key] !== undefined).length;
          const wrong = fields.some((key) => problems.has(key));
          const body = (
            <div className="fields">
              {fields.map((key) => {
                const { label, unit } = worded(key);
                const given = item[key] !== undefined;
                const problem = problems.get(key);
                const wide = ["array", "object"].includes(resolve(root, properties[key] ?? {}).schema.type ?? "") && !resolve(root, properties[key] ?? {}).schema.prefixItems;
                return (
                  <div key={key} className={`field ${wide || key === "notes" || key === "name" ? "wide" : ""}`} data-field={key}>
                    <div className="field-label">
                      <label htmlFor={`field-${key}`}>{`${LABELS[key] ?? label}${unit ? `, ${unit}` : ""}`}</label>
                      {given && !NEVER_ASSUMED.has(key) && !key.startsWith("measured_") && kind !== "rigs" && (
                        <button
                          type="button"
                          className={`trust ${doubted.has(key) ? "assumed" : "stated"}`}
                          title={doubted.has(key) ? "Nobody stated or measured this: choose to say that it is stated" : "As stated: choose to say that it is only assumed"}
                          onClick={() => { set(key, item[key], !doubted.has(key)); }}
                        >
                          {doubted.has(key) ? "assumed" : "stated"}
                        </button>
                      )}
                      {given && key.startsWith("measured_") && key !== "measured_on" && <span className="trust measured">measured</span>}
                    </div>
                    <FieldInput root={root} schema={properties[key] ?? {}} path={[key]} value={item[key]} choices={choices} onChange={(value) => { set(key, value); }} />
                    {problem && (
                      <p className="field-problem" role="alert">{`${problem.message}${problem.hint ? ` (${problem.hint})` : ""}`}</p>
                    )}
                  </div>
                );
              })}
            </div>
          );
          return group.open ? (
            <fieldset key={group.title}>
              <legend>{group.title}</legend>
              {body}
            </fieldset>
          ) : (
            <details key={group.title} open={wrong || undefined}>
              <summary>
                {group.title}
                <span className="wall-count">{filled ? ` ${filled}` : ""}</span>
              </summary>
              {body}
            </details>
          );
        })}
      </form>
      {page && <Said witnessed={page.witnessed} own={id} />}
      {page && page.users.length > 0 && (
        <section>
          <h3>Needed by</h3>
          <ul className="held">
            {page.users.slice(0, 8).map((user) => (
              <li key={`${user.kind} ${user.id} ${user.how}`}>
                <Link to={`/kit/${user.kind}?item=${user.id}`}>{user.name}</Link>
                <span className="route-gives">{user.how}</span>
              </li>
            ))}
          </ul>
          {page.users.length > 8 && <p className="route-gives">{`and ${page.users.length - 8} more`}</p>}
        </section>
      )}
    </article>
  );
}

/** What is usual and not given yet; only where a new item is begun. */
function useUsual(kind: Kind, item: Fields, isNew: boolean) {
  const [mount, rear] = kind === "adapters" ? [item.lens_mount, item.body_mount] : [item.mount, undefined];
  const able = kind === "lenses" || kind === "bodies" || kind === "adapters";
  const ready = isNew && able && typeof mount === "string" && (kind !== "adapters" || typeof rear === "string");
  const usual = useQuery({
    ...usualQuery(able ? kind : "lenses", typeof mount === "string" ? mount : "", typeof rear === "string" ? rear : undefined),
    enabled: ready,
  });
  if (!ready || !usual.data) return null;
  return [
    ...usual.data.sure.map((one) => ({ ...one, sure: true })),
    ...usual.data.assumed.map((one) => ({ ...one, sure: false })),
  ].filter((one) => item[one.field] === undefined);
}

const named = (shelf: Shelf | undefined): Option[] => (shelf?.rows ?? []).map(({ id, name }) => ({ value: id, label: name }));

/** What of the collection a field may name. */
function useChoices(kind: Kind, item: Fields): Choices {
  const needsPieces = kind !== "mounts" && kind !== "protocols";
  const mounts = useQuery({ ...shelfQuery("mounts"), enabled: needsPieces });
  const protocols = useQuery({ ...shelfQuery("protocols"), enabled: kind !== "rigs" });
  const lenses = useQuery({ ...shelfQuery("lenses"), enabled: needsPieces });
  const bodies = useQuery({ ...shelfQuery("bodies"), enabled: needsPieces });
  const adapters = useQuery({ ...shelfQuery("adapters"), enabled: needsPieces });
  const front = kind === "adapters" ? item.lens_mount : item.mount;
  const system = useQuery({ ...kitItemQuery("mounts", typeof front === "string" ? front : ""), enabled: needsPieces && typeof front === "string" });
  const features = (kind === "mounts" ? item.features : system.data?.item.features) as { id: string; label: string; side: string }[] | undefined;
  const generations = system.data?.item.generations as { id: string; label: string }[] | undefined;
  return (key, path) => {
    switch (key) {
      case "mount":
      case "lens_mount":
      case "body_mount":
        return named(mounts.data);
      case "protocol":
      case "protocols":
      case "accepts":
      case "from_protocol":
      case "to_protocol":
        return named(protocols.data);
      case "generation":
      case "lens_generation":
        return (generations ?? []).map((one) => ({ value: one.id, label: one.label }));
      case "features":
        if (kind === "mounts") return null;
        return featureOptions(features, "lens");
      case "lens_side_features":
        return featureOptions(features, "body");
      case "lens_features":
      case "lens_has":
      case "lens_lacks":
        return featureOptions(features, "lens");
      case "body_features":
      case "body_has":
      case "body_lacks":
        return featureOptions(features, "body");
      case "adapter":
      case "adapters":
        return named(adapters.data);
      case "lens":
        return kind === "rigs" ? named(lenses.data) : null;
      case "body":
        return kind === "rigs" ? named(bodies.data) : null;
      case "with":
        return path[0] === "evidence" ? [...named(lenses.data), ...named(adapters.data), ...named(bodies.data)] : null;
      default:
        return null;
    }
  };
}

const featureOptions = (features: { id: string; label: string; side: string }[] | undefined, side: string): Option[] =>
  (features ?? []).filter((one) => one.side === side).map(({ id, label }) => ({ value: id, label }));
