import { useQueries } from "@tanstack/react-query";
import Select from "antd/es/select";
import { useState } from "react";

import { type PlanPage, planQuery } from "../../api/planQueries";
import type { Chosen } from "../../app/practice";
import { money } from "../../parts/format";

interface Props {
  plans: readonly { id: string; name: string }[];
  practice: Chosen;
}

/** Two plans that were kept, beside each other: what each costs, serves, and buys that the other does not. */
export function Beside({ plans, practice }: Props) {
  const [one, setOne] = useState<string | null>(null);
  const [other, setOther] = useState<string | null>(null);
  const chosen = [one, other].flatMap((id) => (id === null ? [] : [id]));
  const found = useQueries({ queries: chosen.map((id) => planQuery(id, practice)) });
  const pages = found.flatMap(({ data }) => (data ? [data] : []));
  const options = plans.map(({ id, name }) => ({ value: id, label: name }));
  const [first, second] = pages;
  return (
    <section className="plans-beside">
      <h2>Two plans beside each other</h2>
      <p className="asked-tools">
        <Select
          aria-label="One plan"
          className="asked-add"
          placeholder="one plan"
          value={one}
          options={options}
          onChange={setOne}
        />
        <Select
          aria-label="Another plan"
          className="asked-add"
          placeholder="another plan"
          value={other}
          options={options.filter(({ value }) => value !== one)}
          onChange={setOther}
        />
      </p>
      {first && second && first.id !== second.id && (
        <table className="data-table" data-table="plans">
          <thead>
            <tr>
              <td />
              <th scope="col">{first.name}</th>
              <th scope="col">{second.name}</th>
            </tr>
          </thead>
          <tbody>
            {ROWS.map(([label, tell]) => (
              <tr key={label}>
                <th scope="row">{label}</th>
                <td>{tell(first, second)}</td>
                <td>{tell(second, first)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

type Tell = (page: PlanPage, beside: PlanPage) => string;

const NOT_KEPT = "not kept yet";

const ROWS: readonly (readonly [string, Tell])[] = [
  ["costs", ({ kept, currency }) => (kept ? money(kept.cost, currency) : NOT_KEPT)],
  ["works", ({ kept, question }) => (kept ? `${kept.serves.length} of ${question.demands.length}` : NOT_KEPT)],
  ["kept on", ({ kept }) => kept?.on ?? NOT_KEPT],
  ["holds", ({ standing }) => (standing ? (standing.holds ? "still" : "not any more") : NOT_KEPT)],
  ["buys alone", (page, beside) => buysOf(page, beside, false)],
  ["buys like the other", (page, beside) => buysOf(page, beside, true)],
  ["adapters", ({ question }) => (question.together ? "one left on each lens" : "one for each mount")],
];

function buysOf({ kept }: PlanPage, beside: PlanPage, shared: boolean): string {
  const theirs = new Set(beside.kept?.buys.map(({ id }) => id));
  const names = (kept?.buys ?? []).filter(({ id }) => theirs.has(id) === shared).map(({ name }) => name);
  return names.length > 0 ? names.join(", ") : "nothing";
}
