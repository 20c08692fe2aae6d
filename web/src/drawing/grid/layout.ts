import type { GridEnds } from "../../api/planQueries";

export interface Row {
  lens: GridEnds;
  /** Its top, below the head of its group. */
  y: number;
}

export interface Layout {
  rows: readonly Row[];
  /** The mounts, each with the line on which its lenses begin. */
  heads: readonly { name: string; y: number }[];
  height: number;
  cell: number;
}

export const ROW = 26;
const HEAD = 24;

/** Where each lens stands; with heads of groups where lenses stand by their mounts. */
export function layoutOf(lenses: readonly GridEnds[], grouped: boolean, bodies: number, room: number): Layout {
  const rows: Row[] = [];
  const heads: { name: string; y: number }[] = [];
  let y = 0;
  let last = "";
  for (const lens of lenses) {
    if (grouped && lens.mount !== last) {
      heads.push({ name: lens.mount_name, y });
      last = lens.mount;
      y += HEAD;
    }
    rows.push({ lens, y });
    y += ROW;
  }
  const cell = Math.max(30, Math.min(72, Math.floor(room / Math.max(1, bodies))));
  return { rows, heads, height: y, cell };
}

/** The row at a height, -1 where there is none. */
export function rowAt(layout: Layout, y: number): number {
  return layout.rows.findIndex((row) => y >= row.y && y < row.y + ROW);
}
