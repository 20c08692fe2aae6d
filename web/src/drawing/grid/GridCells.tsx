import "./grid.css";

import { memo, useMemo } from "react";

import type { Grade } from "../../api/client";
import type { GridCell, GridEnds } from "../../api/planQueries";
import { type Layout, ROW } from "./layout";
import { placedBridge, placedMark } from "./marks";

interface Props {
  layout: Layout;
  bodies: readonly GridEnds[];
  cellOf: (lens: string, body: string) => GridCell | undefined;
}

const SCALE = 0.62;

/** All cells: a tile where it works now, an outlined one where it could; the mark of the grade on it. */
export const GridCells = memo(function GridCells({ layout, bodies, cellOf }: Props) {
  const paths = useMemo(() => pathsOf(layout, bodies, cellOf), [layout, bodies, cellOf]);
  return (
    <>
      <path className="grid-works" d={paths.works} />
      <path className="grid-could" d={paths.could} />
      {[...paths.now].map(([grade, d]) => (
        <path key={grade} className={`grid-mark grade-${grade}`} data-grade={grade} d={d} />
      ))}
      {[...paths.market].map(([grade, d]) => (
        <path key={grade} className={`grid-mark could grade-${grade}`} data-could={grade} d={d} />
      ))}
      <path className="grid-bridge" d={paths.bridges} />
      <path className="grid-better" d={paths.better} />
      <path className="grid-loaded" d={paths.loaded} />
      <path className="grid-unseen" d={paths.unseen} />
      <path className="grid-unlisted" d={paths.unlisted} />
    </>
  );
});

/** A weight that hangs: a joint bears more than it is rated for. */
export const weightMark = (x: number, y: number) => `M${x} ${y + 7}l2 -5h3l2 5z`;
/** A gap that nobody has seen: whether the rear clears is not known. */
export const gapMark = (x: number, y: number) => `M${x} ${y}v7M${x + 6} ${y}v7`;

/** A ring that nobody lists. */
export const ringMark = (x: number, y: number) =>
  `M${x - 6} ${y}a6 6 0 1 0 12 0a6 6 0 1 0 -12 0M${x - 3.5} ${y}a3.5 3.5 0 1 0 7 0a3.5 3.5 0 1 0 -7 0`;

function pathsOf(layout: Layout, bodies: readonly GridEnds[], cellOf: Props["cellOf"]) {
  const now = new Map<Grade, string>();
  const market = new Map<Grade, string>();
  let works = "";
  let could = "";
  let bridges = "";
  let better = "";
  let loaded = "";
  let unseen = "";
  let unlisted = "";
  const { cell: wide } = layout;
  for (const { lens, y } of layout.rows) {
    bodies.forEach((body, column) => {
      const cell = cellOf(lens.id, body.id);
      if (!cell) return;
      const left = column * wide;
      const tile = `M${left + 1.5} ${y + 1.5}h${wide - 3}v${ROW - 3}h${3 - wide}z`;
      if (cell.works_now) works += tile;
      else if (cell.could_work) could += tile;
      const grade = cell.owned_grade ?? cell.market_grade;
      // A ring that nobody lists would make it work: a ring.
      if (cell.unlisted_grade !== null && !cell.could_work) {
        unlisted += ringMark(left + wide / 2, y + ROW / 2);
        return;
      }
      if (grade === null) return;
      const x = left + wide / 2 - 14 * SCALE;
      const top = y + ROW / 2 - 14 * SCALE;
      const into = cell.owned_grade === null ? market : now;
      into.set(grade, (into.get(grade) ?? "") + placedMark(grade, x, top, SCALE));
      if (grade === "full") bridges += placedBridge(x, top, SCALE);
      // A corner is turned up where buying something makes it better.
      if (cell.owned_grade !== null && cell.market_grade !== cell.owned_grade)
        better += `M${left + wide - 9} ${y + 2}h7v7z`;
      loaded += cell.cautions.includes("load_exceeded") ? weightMark(left + 2, y + ROW - 9) : "";
      unseen += cell.cautions.includes("clearance_unknown") ? gapMark(left + wide - 9, y + ROW - 9) : "";
    });
  }
  return { now, market, works, could, bridges, better, loaded, unseen, unlisted };
}
