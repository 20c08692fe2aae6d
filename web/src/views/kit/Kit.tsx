import "./Kit.css";
import "./pane.css";

import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import type { InputRef } from "antd/es/input/Input";
import { useCallback, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { type Kind, rigsQuery } from "../../api/queries";
import { usePractices } from "../../app/Practices";
import { useScreen } from "../../app/screen";
import { useChange } from "../../app/useChange";
import { DueSoon } from "../../parts/Away";
import { Failed } from "../../parts/Failed";
import type { Fields } from "../../parts/fields";
import { KIND_WORDS, KINDS } from "../../parts/labels";
import { UndoBar } from "../../parts/UndoBar";
import { useWidth } from "../../parts/useWidth";
import { Filters } from "./Filters";
import { HELP } from "./help";
import { ItemPane } from "./ItemPane";
import { Rigs } from "./Rigs";
import { Selected } from "./Selected";
import { ShelfList } from "./ShelfList";
import { ShelfPaper } from "./ShelfPaper";
import { draftNames } from "./useDraft";
import { useSelection } from "./useSelection";
import { useShelfSearch } from "./useShelfSearch";
import { adaptersIn } from "../../parts/rig";

/** Whoever came from somewhere to add something is led back there, and told so. */
function useBack(back: string | null): (name: string) => boolean {
  const navigate = useNavigate();
  return useCallback(
    (name: string) => {
      if (!back || !/^\/(?!\/)/.test(back)) return false;
      void navigate(back, { state: { kept: name } });
      return true;
    },
    [back, navigate],
  );
}

/** The shelves: what one has and what is on offer, found, corrected, and kept. */
export default function Kit() {
  const parameters = useParams();
  const kind: Kind = KINDS.find((one) => one === parameters.kind) ?? "lenses";
  const [address, change] = useChange();
  const navigate = useNavigate();
  const { own: practice } = usePractices();
  const [begin, setBegin] = useState<Fields | null>(null);
  const search = useRef<InputRef>(null);
  const item = address.get("item");
  const sought = useShelfSearch(kind, address, change);
  const { shelf, found, rows, q } = sought;
  const rigs = useQuery(rigsQuery);
  const selection = useSelection(rows);
  const open = useCallback(
    (id: string | null, with_?: Fields) => {
      setBegin(with_ ?? null);
      change({ item: id }, false);
    },
    [change],
  );
  const kept = useBack(address.get("back"));
  const step = (by: number) => {
    const at = rows.findIndex(({ id }) => id === item);
    const next = rows[at < 0 ? 0 : Math.min(Math.max(at + by, 0), rows.length - 1)];
    if (next) change({ item: next.id });
  };
  const go = (to: Kind) => {
    selection.none();
    setBegin(null);
    void navigate(`/kit/${to}`);
  };
  const isThere = found.isSuccess && shelf.isSuccess && !found.isPlaceholderData;
  const answer =
    kind === "rigs" ? (rigs.isSuccess ? `kit rigs ${q}` : undefined) : isThere ? `kit ${kind} ${q}` : undefined;
  useScreen({
    title: KIND_WORDS[kind].many,
    answer,
    busy: answer === undefined,
    className: `kit ${item ? "with-pane" : ""}`.trim(),
    help: HELP,
    keys: {
      ArrowDown: () => step(1),
      ArrowUp: () => step(-1),
      f: () => search.current?.focus(),
      n: () => open("new"),
      x: () => {
        if (item && item !== "new") selection.select(item, false);
      },
      l: () => void navigate("/"),
      Escape: () => {
        if (item) open(null);
        else selection.none();
      },
      ...Object.fromEntries(KINDS.map((one, index) => [String(index + 1), () => go(one)])),
    },
  });
  const [box, width] = useWidth<HTMLDivElement>();
  const narrow = width > 0 && width < 720;
  const beginning = useMemo<Fields>(() => begin ?? fieldsOf(kind, address), [begin, kind, address]);
  const changedRigs = rigs.data?.rigs.filter((rig) => rig.changed).length ?? 0;
  return (
    <>
      <DueSoon />
      <div className="kit-head">
        <Shelves kind={kind} changedRigs={changedRigs} onLeave={selection.none} />
        <UndoBar />
        <Button type="primary" onClick={() => open("new")}>{`Add ${KIND_WORDS[kind].a}`}</Button>
        {kind === "lenses" && <Link to="/begin/lenses">Add several</Link>}
        <Link to="/begin">Enter what I have</Link>
      </div>
      <div className="kit-body">
        <section className="kit-shelf" ref={box} aria-label={KIND_WORDS[kind].many}>
          <Filters
            kind={kind}
            shelf={shelf.data}
            address={address}
            text={sought.text}
            onType={sought.type}
            folded={narrow}
            search={search}
            onChange={change}
          />
          {kind === "rigs" ? (
            <Rigs q={q} chosen={item} onChoose={open} />
          ) : (
            <ShelfOf
              kind={kind}
              sought={sought}
              selection={selection}
              item={item}
              narrow={narrow}
              retired={address.get("retired") === "1"}
              onOpen={open}
            />
          )}
        </section>
        {item && (
          <ItemPane
            key={`${kind} ${item} ${begin ? String(begin.name) : ""}`}
            kind={kind}
            id={item}
            begin={beginning}
            practice={practice}
            onOpen={open}
            onKept={kept}
          />
        )}
      </div>
    </>
  );
}

function Shelves({ kind, changedRigs, onLeave }: { kind: Kind; changedRigs: number; onLeave: () => void }) {
  return (
    <nav className="shelves" aria-label="Shelves">
      {KINDS.map((one) => (
        <Link key={one} to={`/kit/${one}`} aria-current={one === kind ? "page" : undefined} onClick={onLeave}>
          {KIND_WORDS[one].many}
          {one === "rigs" && changedRigs > 0 && <span className="rigs-changed">{` ${changedRigs} changed`}</span>}
        </Link>
      ))}
    </nav>
  );
}

interface ShelfProps {
  kind: Kind;
  sought: ReturnType<typeof useShelfSearch>;
  selection: ReturnType<typeof useSelection>;
  item: string | null;
  narrow: boolean;
  retired: boolean;
  onOpen: (id: string | null) => void;
}

/** The rows of one shelf, and what can be done with those that are selected. */
function ShelfOf({ kind, sought, selection, item, narrow, retired, onOpen }: ShelfProps) {
  const navigate = useNavigate();
  const { shelf, found, rows, shelfKind } = sought;
  const { selected } = selection;
  const drafts = [...draftNames()].sort().join("\n");
  const unsaved = useMemo(() => new Set(drafts.split("\n")), [drafts]);
  const error = shelf.error ?? found.error;
  const total = shelf.data?.rows.length ?? 0;
  return (
    <>
      {error && (
        <Failed
          error={error}
          onRetry={() => {
            void shelf.refetch();
            void found.refetch();
          }}
        />
      )}
      {selected.size > 0 ? (
        <Selected
          kind={kind}
          shelfKind={shelfKind}
          ids={[...selected]}
          count={rows.length}
          retired={retired}
          onAll={selection.all}
          onNone={selection.none}
        />
      ) : (
        <p className="shelf-count" role="status">
          {shelf.data ? (rows.length === total ? `${total} in all` : `${rows.length} of ${total}`) : ""}
        </p>
      )}
      {shelf.data && found.data && rows.length === 0 && (
        <NothingHere
          kind={kind}
          total={total}
          onClear={() => {
            void navigate(`/kit/${kind}`);
          }}
          onAdd={() => onOpen("new")}
        />
      )}
      {shelf.data && <ShelfPaper kind={kind} rows={rows} total={total} currency={shelf.data.currency} />}
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
          onChoose={onOpen}
          onSelect={selection.select}
        />
      )}
    </>
  );
}

const PIECES: ReadonlySet<Kind> = new Set<Kind>(["lenses", "bodies", "adapters", "accessories"]);

const WORDS = [
  ...["name", "mount", "lens_mount", "body_mount", "lens", "body"],
  ...["aperture_control", "link", "from_protocol", "to_protocol", "conversion"],
] as const;
const LENGTHS = ["length_mm", "helicoid_mm", "measured_register_mm"] as const;

/** What an address gives an item to begin with: a new one its fields, one that is there a mount besides its own. */
function fieldsOf(kind: Kind, address: URLSearchParams): Fields {
  const plate = address.get("give_mount");
  const made = address.get("made_mount");
  if (address.get("item") !== "new") {
    return made !== null ? { mount: made } : plate !== null ? { swappable_mounts: [{ mount: plate }] } : {};
  }
  const found: Fields = {};
  // What is entered is mostly what one has.
  if (PIECES.has(kind)) found.owned = 1;
  for (const key of WORDS) {
    const value = address.get(`with_${key}`);
    if (value) found[key] = value;
  }
  for (const key of LENGTHS) {
    const value = Number(address.get(`with_${key}`) ?? NaN);
    if (Number.isFinite(value)) found[key] = value;
  }
  const adapters = address.get("with_adapters");
  if (adapters !== null) found.adapters = adaptersIn(adapters);
  return found;
}

function NothingHere({
  kind,
  total,
  onClear,
  onAdd,
}: {
  kind: Kind;
  total: number;
  onClear: () => void;
  onAdd: () => void;
}) {
  return (
    <div className="message" data-state="empty">
      <h2>{total ? `No ${KIND_WORDS[kind].one} is all of this.` : "This shelf is empty."}</h2>
      <p className="message-actions">
        {total ? (
          <Button type="primary" onClick={onClear}>
            Show all
          </Button>
        ) : (
          <Button type="primary" onClick={onAdd}>{`Add ${KIND_WORDS[kind].a}`}</Button>
        )}
        {total === 0 && <Link to="/files">Import a list or a gear file</Link>}
      </p>
    </div>
  );
}
