import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import type { InputRef } from "antd/es/input";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { client, unwrap } from "../../api/client";
import { foundQuery, type Kind, rigsQuery, shelfQuery, type ShelfKind, startQuery } from "../../api/queries";
import { DEFAULT_PRACTICE } from "../../app/practice";
import { useChange } from "../../app/useChange";
import { useKeys } from "../../app/useKeys";
import { useWidth } from "../../app/useWidth";
import { KeysPanel } from "../../parts/KeysPanel";
import { Top } from "../../parts/Top";
import { Failed } from "../light-path/States";
import { send } from "../files/send";
import { KIND_WORDS } from "./fields";
import { Filters, wantedOf } from "./Filters";
import { ItemPane } from "./ItemPane";
import { Rigs } from "./Rigs";
import type { Fields } from "./schema";
import { ShelfList } from "./ShelfList";
import "./kit.css";
import { UndoBar } from "./UndoBar";
import { draftNames } from "./useDraft";

interface Props {
  dark: boolean;
  onToggleTheme: () => void;
}

const KINDS: readonly Kind[] = ["lenses", "bodies", "adapters", "mounts", "protocols", "rigs"];
const KEYS = [
  ["↑ ↓", "the item before, the next"],
  ["F", "search this shelf"],
  ["N", "a new item"],
  ["C", "copy the open item as new"],
  ["X", "select the open item"],
  ["Ctrl S", "save what is written"],
  ["Ctrl Z", "undo; with Shift, redo"],
  ["1 to 6", "the shelves"],
  ["/", "read a label"],
  ["L", "the light path"],
  ["D", "dark or light"],
  ["Esc", "close the item"],
] as const;

/** The shelves: what one has and what is on offer, found, corrected, and kept. */
export default function Kit({ dark, onToggleTheme }: Props) {
  const parameters = useParams();
  const kind: Kind = KINDS.find((one) => one === parameters.kind) ?? "lenses";
  const [address, change] = useChange();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [help, setHelp] = useState(false);
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [begin, setBegin] = useState<Fields | null>(null);
  const lastSelected = useRef<string | null>(null);
  const search = useRef<InputRef>(null);
  const start = useQuery(startQuery);
  const practice = useMemo(() => ({ ...DEFAULT_PRACTICE, ...start.data?.practice }), [start.data]);
  const item = address.get("item");
  const asked = address.get("q") ?? "";
  // What is typed is sought at once, and the address follows. Once it has, another address (back, a link) counts again.
  const [typed, setTyped] = useState({ text: asked, asked, kind, followed: true });
  const ahead = typed.kind === kind && !typed.followed && typed.asked === asked;
  const text = ahead || (typed.kind === kind && typed.text.trim() === asked) ? typed.text : asked;
  if (!typed.followed && typed.text.trim() === asked && typed.kind === kind) setTyped({ ...typed, followed: true });
  const q = text.trim().slice(0, 200);
  const follow = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => { clearTimeout(follow.current); }, [kind]);
  const type = (next: string) => {
    setTyped({ text: next, asked, kind, followed: next.trim() === asked });
    clearTimeout(follow.current);
    // Writing the address draws the page once more: that may wait until the list stands.
    follow.current = setTimeout(() => { change({ q: next.trim() || null }); }, 150);
  };
  const shelfKind: ShelfKind = kind === "rigs" ? "lenses" : kind;
  const shelf = useQuery({ ...shelfQuery(shelfKind), enabled: kind !== "rigs" });
  const wanted = useMemo(() => ({ ...wantedOf(address), q }), [address, q]);
  const found = useQuery({ ...foundQuery(shelfKind, wanted), enabled: kind !== "rigs" });
  const rigs = useQuery(rigsQuery);
  const changedRigs = rigs.data?.rigs.filter((rig) => rig.changed).length ?? 0;
  const byId = useMemo(() => new Map(shelf.data?.rows.map((row) => [row.id, row])), [shelf.data]);
  const rows = useMemo(() => (found.data ?? []).flatMap((id) => byId.get(id) ?? []), [byId, found.data]);

  const open = useCallback(
    (id: string | null, with_?: Fields) => {
      setBegin(with_ ?? null);
      change({ item: id }, false);
    },
    [change, setBegin],
  );
  const step = (by: number) => {
    const at = rows.findIndex(({ id }) => id === item);
    const next = rows[at < 0 ? 0 : Math.min(Math.max(at + by, 0), rows.length - 1)];
    if (next) change({ item: next.id });
  };
  const select = useCallback(
    (id: string, through: boolean) => {
      const from = lastSelected.current;
      lastSelected.current = id;
      setSelected((before) => {
        const next = new Set(before);
        if (through && from !== null) {
          const [a, b] = [rows.findIndex((row) => row.id === from), rows.findIndex((row) => row.id === id)].sort((x, y) => x - y);
          for (const row of rows.slice(a ?? 0, (b ?? 0) + 1)) next.add(row.id);
        } else if (!next.delete(id)) next.add(id);
        return next;
      });
    },
    [rows, setSelected],
  );
  const go = (to: Kind) => {
    setSelected(new Set());
    setBegin(null);
    void navigate(`/kit/${to}`);
  };
  const several = useMutation({
    mutationFn: async (way: "retire" | "back" | "remove") => {
      const ids = [...selected];
      if (way === "remove") return unwrap(await client.POST("/api/v1/kit/{kind}/remove", { params: { path: { kind } }, body: { ids } }));
      return unwrap(await client.POST("/api/v1/kit/{kind}/retire", { params: { path: { kind: shelfKind } }, body: { ids, retired: way === "retire" } }));
    },
    onSuccess: async () => {
      setSelected(new Set());
      await queries.invalidateQueries();
    },
  });
  const takeOut = useMutation({
    mutationFn: async (format: "gear" | "table") => {
      const response = await send("/api/v1/export", JSON.stringify({ kind, ids: [...selected], format }), "application/json");
      const link = document.createElement("a");
      link.href = URL.createObjectURL(await response.blob());
      link.download = `tropeion-${kind}.${format === "gear" ? "json" : "csv"}`;
      link.click();
      URL.revokeObjectURL(link.href);
    },
  });
  useKeys({
    ArrowDown: () => { step(1); },
    ArrowUp: () => { step(-1); },
    f: () => { search.current?.focus(); },
    n: () => { open("new"); },
    x: () => { if (item && item !== "new") select(item, false); },
    l: () => { void navigate("/"); },
    d: onToggleTheme,
    "?": () => { setHelp(true); },
    Escape: () => { if (help) setHelp(false); else if (item) open(null); else setSelected(new Set()); },
    ...Object.fromEntries(KINDS.map((one, index) => [String(index + 1), () => { go(one); }])),
  });
  const [box, width] = useWidth<HTMLDivElement>();
  const drafts = [...draftNames()].sort().join("\n");
  const unsaved = useMemo(() => new Set(drafts.split("\n")), [drafts]);
  const narrow = width > 0 && width < 720;
  const error = shelf.error ?? found.error;
  const total = shelf.data?.rows.length ?? 0;
  const beginning = useMemo<Fields>(() => begin ?? fieldsOf(address), [begin, address]);
  const key = kind === "rigs" ? (rigs.isSuccess ? `kit rigs ${q}` : undefined) : found.isSuccess && shelf.isSuccess && !found.isPlaceholderData ? `kit ${kind} ${q}` : undefined;
  const openHelp = useCallback(() => { setHelp(true); }, [setHelp]);
  const header = useMemo(
    () => <Top dark={dark} onToggleTheme={onToggleTheme} onHelp={openHelp} tools={<Link className="tool-link" to="/files">Files</Link>} />,
    [dark, onToggleTheme, openHelp],
  );
  const shelves = useMemo(
    () => (
      <nav className="shelves" aria-label="Shelves">
        {KINDS.map((one) => (
          <Link key={one} to={`/kit/${one}`} aria-current={one === kind ? "page" : undefined} onClick={() => { setSelected(new Set()); }}>
            {KIND_WORDS[one].many}
            {one === "rigs" && changedRigs > 0 && <span className="rigs-changed">{` ${changedRigs} changed`}</span>}
          </Link>
        ))}
      </nav>
    ),
    [kind, changedRigs, setSelected],
  );
  return (
    <>
      <title>{`${KIND_WORDS[kind].many} · Tropeion`}</title>
      {header}
      <main className={`page kit ${item ? "with-pane" : ""}`} data-answer-for={key} aria-busy={key === undefined}>
        <div className="kit-head">
          {shelves}
          <UndoBar />
          <Button type="primary" onClick={() => { open("new"); }}>{`Add ${KIND_WORDS[kind].a}`}</Button>
        </div>
        <div className="kit-body">
          <section className="kit-shelf" ref={box} aria-label={KIND_WORDS[kind].many}>
            <Filters kind={kind} shelf={shelf.data} address={address} text={text} onType={type} folded={narrow} search={search} onChange={change} />
            {error && kind !== "rigs" && <Failed error={error} onRetry={() => { void shelf.refetch(); void found.refetch(); }} />}
            {kind === "rigs" ? (
              <Rigs q={q} chosen={item} onChoose={(id) => { open(id); }} />
            ) : (
              <>
                {selected.size > 0 ? (
                  <p className="selection" role="status">
                    <strong>{`${selected.size} selected`}</strong>
                    {address.get("retired") === "1" ? (
                      <Button size="small" onClick={() => { several.mutate("back"); }}>Bring back</Button>
                    ) : (
                      <Button size="small" onClick={() => { several.mutate("retire"); }}>Retire</Button>
                    )}
                    <Button size="small" danger onClick={() => { several.mutate("remove"); }}>Remove</Button>
                    <Button size="small" onClick={() => { takeOut.mutate("table"); }}>As a table</Button>
                    <Button size="small" onClick={() => { takeOut.mutate("gear"); }}>As a gear file</Button>
                    <Button size="small" type="text" onClick={() => { setSelected(new Set(rows.map(({ id }) => id))); }}>{`All ${rows.length}`}</Button>
                    <Button size="small" type="text" onClick={() => { setSelected(new Set()); }}>None</Button>
                  </p>
                ) : (
                  <p className="shelf-count" role="status">
                    {shelf.data ? (rows.length === total ? `${total} in all` : `${rows.length} of ${total}`) : ""}
                  </p>
                )}
                {takeOut.isError && <p role="alert" className="problem-line">{takeOut.error.message}</p>}
                {several.isError && <p role="alert" className="problem-line">{several.error.message}</p>}
                {shelf.data && found.data && rows.length === 0 && <NothingHere kind={kind} total={total} onClear={() => { void navigate(`/kit/${kind}`); }} onAdd={() => { open("new"); }} />}
                {shelf.data && rows.length > 0 && (
                  <ShelfList
                    key={kind}
                    kind={shelfKind}
                    rows={rows}
                    currency={shelf.data.currency}
                    chosen={item}
                    selected={selected}
                    unsaved={unsaved}
                    narrow={narrow}
                    onChoose={open}
                    onSelect={select}
                  />
                )}
              </>
            )}
          </section>
          {item && <ItemPane key={`${kind} ${item} ${begin ? String(begin.name) : ""}`} kind={kind} id={item} begin={beginning} practice={practice} onOpen={open} />}
        </div>
      </main>
      <KeysPanel title="The kit" keys={KEYS} open={help} onClose={() => { setHelp(false); }}>
        <p>Silhouettes of one shelf are drawn at one scale, each from its own measures, dashed where a measure is unknown. Seats of lenses and adapters stand on one line.</p>
        <p>A value is stated, assumed or measured, and says so. What was measured counts; what was nominal stays beside it.</p>
      </KeysPanel>
    </>
  );
}

/** What an address gives a new item to begin with. */
function fieldsOf(address: URLSearchParams): Fields {
  const found: Fields = {};
  for (const key of ["name", "mount", "lens_mount", "body_mount", "lens", "body"]) {
    const value = address.get(`with_${key}`);
    if (value) found[key] = value;
  }
  const adapters = address.get("with_adapters");
  if (adapters !== null) found.adapters = adapters.split(",").filter(Boolean);
  return found;
}

function NothingHere({ kind, total, onClear, onAdd }: { kind: Kind; total: number; onClear: () => void; onAdd: () => void }) {
  return (
    <div className="message" data-state="empty">
      <h2>{total ? `No ${KIND_WORDS[kind].one} is all of this.` : "This shelf is empty."}</h2>
      <p className="message-actions">
        {total ? <Button type="primary" onClick={onClear}>Show all</Button> : <Button type="primary" onClick={onAdd}>{`Add ${KIND_WORDS[kind].a}`}</Button>}
        {total === 0 && <Link to="/files">Bring a list or a gear file</Link>}
      </p>
    </div>
  );
}
