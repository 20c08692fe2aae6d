import { useQuery } from "@tanstack/react-query";
import Select from "antd/es/select";
import { useState } from "react";

import type { Practice } from "../../api/client";
import { gridCompareQuery, type GridReport, twoBodiesQuery } from "../../api/planQueries";
import type { Chosen } from "../../app/practice";
import { usePractices } from "../../app/Practices";
import { Refused } from "../../parts/Refused";
import { Differs, Mark, told } from "./Differs";

const MOST = 14;

/** Two bodies, or two preferences, by what differs alone. */
export function Compared({ report, practice }: { report: GridReport; practice: Practice }) {
  const { choices, usual } = usePractices();
  const [one, setOne] = useState<string | null>(null);
  const [other, setOther] = useState<string | null>(null);
  const [preference, setPreference] = useState<string | null>(null);
  const bodies = report.bodies.map(({ id, name }) => ({ value: id, label: name }));
  const two = useQuery({
    ...twoBodiesQuery(one ?? "", other ?? "", practice),
    enabled: one !== null && other !== null,
  });
  const [key = "", value = ""] = (preference ?? "").split(" ");
  const changed = { ...usual, ...practice, [key]: value } as Chosen;
  const swayed = useQuery({
    ...gridCompareQuery({ ...usual, ...practice }, changed),
    enabled: preference !== null,
  });
  const nameOf = (id: string | null) => bodies.find((body) => body.value === id)?.label ?? "";
  return (
    <section className="compared">
      <h2>Compared</h2>
      <div className="what-if-form">
        <Select aria-label="One body" placeholder="one body" value={one} options={bodies} onChange={setOne} />
        <Select
          aria-label="Another body"
          placeholder="another body"
          value={other}
          options={bodies.filter((body) => body.value !== one)}
          onChange={setOther}
        />
      </div>
      {two.error && <Refused error={two.error} />}
      {two.data && one && other && (
        <div data-two-bodies={`${one} ${other}`}>
          <p>
            {two.data.length === 0
              ? "Both take every lens alike."
              : `${two.data.length} lenses differ; ${nameOf(one)} before ${nameOf(other)}:`}
          </p>
          <ul className="differs">
            {two.data.slice(0, MOST).map((each) => (
              <li key={each.lens}>
                <Mark grade={each.one} />
                <span aria-hidden="true">|</span>
                <Mark grade={each.other} />
                <span>{`${each.lens_name}: ${told(each.one)} | ${told(each.other)}`}</span>
              </li>
            ))}
          </ul>
          {two.data.length > MOST && <p className="route-gives">{`and ${two.data.length - MOST} more`}</p>}
        </div>
      )}
      <div className="what-if-form">
        <Select
          aria-label="Another preference"
          className="what-if-piece"
          placeholder="with another preference"
          allowClear
          showSearch={{ optionFilterProp: "label" }}
          value={preference}
          options={choices.map((choice) => ({
            label: choice.question,
            options: choice.options
              .filter((option) => option.value !== ({ ...usual, ...practice } as Record<string, string>)[choice.key])
              .map((option) => ({
                value: `${choice.key} ${option.value}`,
                label: `${choice.question}: ${option.label}`,
              })),
          }))}
          onChange={(next?: string) => setPreference(next ?? null)}
        />
      </div>
      {preference !== null && swayed.data && (
        <div data-preference={preference}>
          <p>
            {swayed.data.pairs.length === 0
              ? "No pair comes to another grade under it."
              : `${swayed.data.better} pairs better, ${swayed.data.worse} worse.`}
          </p>
          <Differs found={swayed.data} />
        </div>
      )}
    </section>
  );
}
