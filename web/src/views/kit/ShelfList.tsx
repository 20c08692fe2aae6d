import "./ShelfList.css";

import { AwaySaid } from "../../parts/Away";
import { classes } from "../../parts/classes";
import { memo, useEffect } from "react";

import type { ShelfRow } from "../../api/client";
import type { ShelfKind } from "../../api/queries";
import { money } from "../../parts/format";
import { Silhouette } from "./Silhouette";
import { Plain } from "../../parts/Plain";
import { useRowsSeen } from "./useRowsSeen";

interface Props {
  kind: ShelfKind;
  rows: readonly ShelfRow[];
  currency: string;
  chosen: string | null;
  selected: ReadonlySet<string>;
  unsaved: ReadonlySet<string>;
  narrow: boolean;
  onChoose: (id: string) => void;
  onSelect: (id: string, through: boolean) => void;
}

// One scale for a whole shelf, so that sizes compare by eye.
const SCALES: Record<ShelfKind, { scale: number; width: number; height: number }> = {
  lenses: { scale: 0.62, width: 118, height: 62 },
  bodies: { scale: 0.56, width: 118, height: 66 },
  adapters: { scale: 0.72, width: 84, height: 58 },
  mounts: { scale: 0.62, width: 118, height: 58 },
  accessories: { scale: 1, width: 60, height: 34 },
  foils: { scale: 1, width: 60, height: 34 },
  pairs: { scale: 1, width: 60, height: 34 },
  protocols: { scale: 1, width: 60, height: 34 },
};

/** On a phone the whole shelf is drawn smaller. */
const sizeOf = (kind: ShelfKind) => {
  const { scale, width, height } = SCALES[kind];
  return window.innerWidth < 500
    ? { scale: scale * 0.68, width: Math.round(width * 0.68), height }
    : { scale, width, height };
};

/** A shelf: rows drawn only where they are seen, so that thousands scroll as well as ten. */
export const ShelfList = memo(function ShelfList({
  kind,
  rows,
  currency,
  chosen,
  selected,
  unsaved,
  narrow,
  onChoose,
  onSelect,
}: Props) {
  const size = SCALES[kind];
  const rowHeight = size.height + 6;
  const { box, first, last, show } = useRowsSeen(rows.length, rowHeight);
  const at = rows.findIndex(({ id }) => id === chosen);
  useEffect(() => {
    if (at >= 0) show(at);
  }, [at, show]);
  return (
    <div ref={box} className="shelf" tabIndex={-1}>
      <ul style={{ height: rows.length * rowHeight }}>
        {rows.slice(first, last).map((row, place) => (
          <Entry
            key={row.id}
            row={row}
            kind={kind}
            currency={currency}
            chosen={row.id === chosen}
            selected={selected.has(row.id)}
            unsaved={unsaved.has(`${kind} ${row.id}`)}
            narrow={narrow}
            top={(first + place) * rowHeight}
            height={rowHeight}
            position={first + place + 1}
            of={rows.length}
            onChoose={onChoose}
            onSelect={onSelect}
          />
        ))}
      </ul>
    </div>
  );
});

interface EntryProps extends Pick<Props, "kind" | "currency" | "narrow" | "onChoose" | "onSelect"> {
  row: ShelfRow;
  chosen: boolean;
  selected: boolean;
  unsaved: boolean;
  top: number;
  height: number;
  position: number;
  of: number;
}

const Entry = memo(function Entry({
  row,
  kind,
  currency,
  chosen,
  selected,
  unsaved,
  narrow,
  top,
  height,
  position,
  of,
  onChoose,
  onSelect,
}: EntryProps) {
  // What is not a thing cannot be away.
  const atHand = row.owned + row.borrowed > 0 || kind === "pairs";
  return (
    <li
      className={classes("shelf-row", chosen && "chosen", !atHand && "not-owned", row.retired && "retired")}
      style={{ height, transform: `translateY(${top}px)` }}
      aria-setsize={of}
      aria-posinset={position}
      data-id={row.id}
    >
      <label>
        <input
          type="checkbox"
          checked={selected}
          aria-label={`Select ${row.name}`}
          onChange={(event) => onSelect(row.id, event.nativeEvent instanceof MouseEvent && event.nativeEvent.shiftKey)}
        />
      </label>
      <Plain
        className={`shelf-item ${narrow ? "narrow" : ""} of-${kind}`}
        aria-current={chosen ? "true" : undefined}
        onClick={() => onChoose(row.id)}
      >
        <Silhouette row={row} kind={kind} {...sizeOf(kind)} />
        <span className="shelf-name">
          {row.name}
          <AwaySaid id={row.id} />
          {unsaved && <span className="unsaved"> not saved</span>}
          <span className="shelf-detail">{[row.detail, row.mount].filter(Boolean).join(", ")}</span>
        </span>
        {kind === "lenses" && !narrow && <Covers row={row} />}
        <span className="shelf-tags">{row.tags.join(", ")}</span>
        <span className="shelf-trust">
          {row.measured && <span className="trust measured">measured</span>}
          {row.assumed > 0 && <span className="trust assumed">{`${row.assumed} assumed`}</span>}
          {row.confirmed + row.contradicted > 0 && (
            <span className="trust">{`${row.confirmed} for, ${row.contradicted} against`}</span>
          )}
        </span>
        <span className="shelf-hand">{hand(row)}</span>
        <span className="shelf-price">{row.price === null ? "" : money(row.price, currency)}</span>
        <span className="shelf-mass">{row.mass_g === null ? "" : `${row.mass_g} g`}</span>
      </Plain>
    </li>
  );
});

function hand(row: ShelfRow): string {
  const parts = [
    row.owned ? (row.owned > 1 ? `${row.owned} owned` : "owned") : "",
    row.borrowed ? (row.borrowed > 1 ? `${row.borrowed} borrowed` : "borrowed") : "",
  ];
  return parts.filter(Boolean).join(", ");
}

/** A lens's image circle to scale, with the largest format of the collection inside it. */
function Covers({ row }: { row: ShelfRow }) {
  const [scale, size] = [0.6, 60];
  const r = Math.min(((row.circle_mm ?? 0) * scale) / 2, 200);
  const [w, h] = (row.covers ?? "0 × 0").split(" × ").map((side) => Number(side) * scale);
  return (
    <span className="shelf-covers">
      <svg
        width={size}
        height={size}
        viewBox={`${-size / 2} ${-size / 2} ${size} ${size}`}
        aria-hidden="true"
        className="silhouette"
      >
        {row.circle_mm !== null && <circle className="sil-light" r={r} />}
        {row.covers && <rect className="sil-sensor" x={-(w ?? 0) / 2} y={-(h ?? 0) / 2} width={w} height={h} />}
      </svg>
      <span className="shelf-detail">
        {row.circle_mm === null ? "circle unknown" : row.covers ? `covers ${row.covers}` : "covers none"}
      </span>
    </span>
  );
}
