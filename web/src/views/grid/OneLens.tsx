import { useQueries } from "@tanstack/react-query";
import Button from "antd/es/button";
import Select from "antd/es/select";
import { Link } from "react-router";

import type { Practice } from "../../api/client";
import { type GridCell, type GridEnds, whyQuery } from "../../api/planQueries";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";

interface Props {
  lenses: readonly GridEnds[];
  bodies: readonly GridEnds[];
  cellOf: (lens: string, body: string) => GridCell | undefined;
  practice: Practice;
  row: number;
  onRow: (row: number) => void;
}

/** On a phone: one lens at a time, on all bodies. */
export function OneLens({ lenses, bodies, cellOf, practice, row, onRow }: Props) {
  const lens = lenses[row];
  const whys = useQueries({ queries: bodies.map((body) => whyQuery(lens?.id ?? "", body.id, practice)) });
  if (!lens) return null;
  const works = `Works on ${lens.works_now} of ${bodies.length} bodies now, could on ${lens.could_work}.`;
  return (
    <section className="one-lens" data-lens={lens.id}>
      <div className="one-lens-head">
        <Button aria-label="The lens before" disabled={row === 0} onClick={() => onRow(row - 1)}>
          ‹
        </Button>
        <Select
          aria-label="Lens"
          showSearch={{ optionFilterProp: "label" }}
          value={lens.id}
          options={lenses.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(id) => onRow(lenses.findIndex((one) => one.id === id))}
        />
        <Button aria-label="The next lens" disabled={row === lenses.length - 1} onClick={() => onRow(row + 1)}>
          ›
        </Button>
      </div>
      <p className="route-gives">{works}</p>
      <ul className="one-lens-bodies">
        {bodies.map((body, index) => {
          const cell = cellOf(lens.id, body.id);
          const grade = cell?.owned_grade ?? cell?.market_grade ?? null;
          const bought = cell?.owned_grade === null ? ", with something to buy" : "";
          const told = grade ? `${gradeTitle(grade)}${bought}` : "Nothing joins them";
          return (
            <li key={body.id}>
              <Link to={`/?lens=${lens.id}&body=${body.id}`} className={cell?.works_now ? "works" : ""}>
                {grade ? <GradeMark grade={grade} size={30} /> : <span className="grid-why-none" />}
                <span>
                  <b>{body.name}</b>
                  <span className="route-gives">{`${told}. ${[whys[index]?.data?.sentence, ...(whys[index]?.data?.cautions ?? []).map(({ text }) => text)].join(" ")}`}</span>
                </span>
              </Link>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
