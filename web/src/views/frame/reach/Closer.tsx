import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import { useId, useState } from "react";

import type { Closer as Row, FrameReport } from "../../../api/client";
import { closerQuery } from "../../../api/queries";
import type { Chosen } from "../../../app/practice";
import type { Words } from "../../../app/useChange";
import { type Bar, DistanceBars } from "../../../drawing/DistanceBars";
import { keep, tablesOf } from "../../../parts/csv";
import { distance, mm } from "../../../parts/format";
import { Refused } from "../../../parts/Refused";
import { headed, word } from "../../../parts/words";
import { setTo } from "../becomes/words";
import { viaOf } from "../../../parts/rig";
import { TableHead } from "../../../parts/TableHead";

interface Props {
  report: FrameReport;
  practice: Chosen;
  words: URLSearchParams;
  change: (next: Words, replace?: boolean) => void;
}

const keyOf = (row: Row) => `${viaOf(row.adapters)}+${row.more_mm}`;

/** Near and far of this rig, of what holds the lens farther out, and of lengths that are only tried. */
export function Closer({ report, practice, words, change }: Props) {
  const { lens, body, adapters } = report;
  const said = words.get("more") ?? "5, 10";
  const [typed, setTyped] = useState(said);
  const found = useQuery(
    closerQuery({
      practice,
      lens,
      body,
      via: viaOf(adapters),
      mm: report.focal_length_mm / report.magnification,
      more: said,
    }),
  );
  const id = useId();
  const units = practice.distances;
  const rows = found.data?.rows ?? [];
  const names = new Map(rows.map((row) => [keyOf(row), nameOf(row)]));
  return (
    <section className="becomes-words" data-rows={rows.length}>
      <h2>Closer: near and far of what holds the lens farther out</h2>
      {rows.length > 0 && (
        <>
          <DistanceBars name="closer" units={units} bars={rows.map((row) => barOf(row, names.get(keyOf(row)) ?? ""))} />
          <div className="wide-table">
            <table className="data-table stacks" data-table="closer">
              <TableHead
                columns={[
                  "through",
                  "near",
                  "far",
                  "from the front",
                  headed("greatest_magnification"),
                  "effective f/ there",
                ]}
              />
              <tbody>
                {rows.map((row) => (
                  <tr key={keyOf(row)} data-closer={keyOf(row)} aria-current={row.here ? "true" : undefined}>
                    <th scope="row">{names.get(keyOf(row))}</th>
                    <td data-head="near">{row.near_mm === null ? reasonOf(row) : distance(row.near_mm, units)}</td>
                    <td data-head="far">{farOf(row, units)}</td>
                    <td data-head="from the front">
                      {row.from_front_mm === null ? UNKNOWN : distance(row.from_front_mm, units)}
                    </td>
                    <td data-head={word("greatest_magnification")}>
                      {row.max_magnification === null ? "not known" : `${row.max_magnification.toFixed(2)} ×`}
                    </td>
                    <td data-head="effective f/ there">{closeStop(row)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
      <form
        className="equal-asked"
        onSubmit={(event) => {
          event.preventDefault();
          change({ more: typed }, false);
        }}
      >
        <div className="frame-asked">
          <label htmlFor={id}>Try with so much more, mm</label>
          <Input
            id={id}
            value={typed}
            placeholder="5, 10"
            onChange={(event) => setTyped(event.target.value)}
            onBlur={() => change({ more: typed }, true)}
          />
        </div>
      </form>
      {rows.length > 0 && (
        <Button onClick={() => keep(`${lens}-${body}-closer.csv`, "text/csv", tablesOf(rows.map(csvRow)))}>
          Near and far as CSV
        </Button>
      )}
      {found.error && <Refused error={found.error} />}
    </section>
  );

  function nameOf(row: Row): string {
    if (row.more_mm > 0) return `${mm(row.more_mm, 1)} mm more, tried`;
    const chain = row.adapters.map((one) => found.data?.names[one] ?? one).join(" + ") || "bare";
    return row.here ? `this rig: ${chain}` : chain;
  }
}

/** A row whose chain is one cell. */
const csvRow = ({ adapters, ...row }: Row) => ({ adapters: adapters.join(" "), ...row });

const UNKNOWN = "not known";

const closeStop = (row: Row) =>
  row.close_f_number === null ? UNKNOWN : `${setTo(row.close_f_number)} from ${setTo(row.f_number)}`;

const reasonOf = (row: Row) =>
  row.state === "none" ? "nothing is sharp" : row.state === "inside" ? "inside the lens" : "not known";

function farOf(row: Row, units: "metric" | "imperial"): string {
  if (row.state === "to_infinity") return "infinity";
  return row.far_mm === null ? reasonOf(row) : distance(row.far_mm, units);
}

function barOf(row: Row, label: string): Bar {
  return {
    key: keyOf(row),
    label,
    near_m: row.near_mm === null ? null : row.near_mm / 1000,
    far_m: row.far_mm === null ? null : row.far_mm / 1000,
    mark_m: null,
    chosen: row.here,
    says: reasonOf(row),
  };
}
