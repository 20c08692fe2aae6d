import "./RowTable.css";

import { type KeyboardEvent, type ReactNode, useRef } from "react";

import type { BecomingRow } from "../../../api/client";
import type { Numbered } from "../../../drawing/views";
import { GradeMark, gradeWord } from "../../../drawing/GradeMark";
import { Plain } from "../../../parts/Plain";

export interface Column {
  head: string;
  /** What stands in the cell; numbers are aligned to the right. */
  cell: (one: Numbered) => ReactNode;
  words?: boolean;
}

interface Props {
  name: string;
  rows: readonly Numbered[];
  chosen: string | null;
  onChoose: (key: string) => void;
  first: { head: string; title: (one: Numbered) => string; under: (one: Numbered) => string };
  columns: readonly Column[];
}

/** What speaks against a row: its corners, or that it does not work. */
function doubtsOf(row: BecomingRow): string[] {
  const corners = row.covered === null ? "corners not known" : "corners dark";
  return [
    ...(row.covered === true ? [] : [corners]),
    ...(row.grade && !row.works ? [gradeWord(row.grade)] : []),
    ...(row.surely ? [] : ["reach not known"]),
  ];
}

/** Rows to choose from, by a tap or the arrow keys; what is chosen is shown beside. */
export function RowTable({ name, rows, chosen, onChoose, first, columns }: Props) {
  const table = useRef<HTMLTableElement>(null);
  const pressed = (event: KeyboardEvent, key: string) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (by === undefined) return;
    const next = rows[rows.findIndex(({ row }) => row.key === key) + by];
    event.preventDefault();
    if (!next) return;
    onChoose(next.row.key);
    table.current?.querySelector<HTMLElement>(`[data-row="${CSS.escape(next.row.key)}"] button`)?.focus();
  };
  if (rows.length === 0) return null;
  return (
    <div className="wide-table">
      <table ref={table} className="data-table row-table stacks" data-table={name}>
        <thead>
          <tr>
            <th scope="col">{first.head}</th>
            {columns.map(({ head, words }, index) => (
              <th key={index} scope="col" className={words ? "" : "number"}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((one) => (
            <tr
              key={one.row.key}
              aria-current={one.row.key === chosen ? "true" : undefined}
              data-row={one.row.key}
              data-works={one.row.works}
            >
              <th scope="row">
                <Plain
                  className="row-name"
                  onClick={() => onChoose(one.row.key)}
                  onKeyDown={(event) => pressed(event, one.row.key)}
                >
                  <span className="row-number">{one.number}</span>
                  {one.row.grade && <GradeMark grade={one.row.grade} size={20} />}
                  <span>
                    {first.title(one)}
                    <small>{[first.under(one), ...doubtsOf(one.row)].join("; ")}</small>
                  </span>
                </Plain>
              </th>
              {columns.map(({ cell, head, words }, index) => (
                <td key={index} className={words ? "" : "number"} data-head={head}>
                  {cell(one)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
