import Button from "antd/es/button";
import Select from "antd/es/select";
import { useQuery } from "@tanstack/react-query";

import type { Grade, Practice } from "../../api/client";
import { type Demand, type GridEnds, gridQuery, type PlanQuestion } from "../../api/planQueries";
import { gradeTitle } from "../../drawing/GradeMark";
import { Plain } from "../../parts/Plain";

interface Props {
  question: PlanQuestion;
  practice: Practice;
  onChange: (next: Partial<PlanQuestion>) => void;
}

const GRADES: readonly Grade[] = ["native", "full", "manual", "partial", "close_up"];
const CHANCES = [0, 0.5, 0.9, 0.95, 0.99];

/** What must work: each lens, on which of the bodies, how well, and how surely to infinity. */
export function Asked({ question, practice, onChange }: Props) {
  const grid = useQuery(gridQuery(practice));
  const lenses = grid.data?.report.lenses ?? [];
  const bodies = grid.data?.report.bodies ?? [];
  const { demands } = question;
  const names = new Map([...lenses, ...bodies].map(({ id, name }) => [id, name]));
  const held = (ends: readonly GridEnds[]) => ends.filter(({ at_hand }) => at_hand > 0).map(({ id }) => id);
  const usual = held(bodies).length > 0 ? held(bodies) : bodies.map(({ id }) => id);
  const set = (place: number, next: Partial<Demand>) =>
    onChange({ demands: demands.map((one, other) => (other === place ? { ...one, ...next } : one)) });
  const all = (next: Partial<Demand>) => onChange({ demands: demands.map((one) => ({ ...one, ...next })) });
  const add = (ids: readonly string[]) =>
    onChange({
      demands: [
        ...demands,
        ...ids.map((lens) => ({
          lens,
          bodies: demands.at(-1)?.bodies ?? usual,
          grade: "manual" as const,
          probability: 0,
          at_once: false,
        })),
      ],
    });
  const asked = new Set(demands.map(({ lens }) => lens));
  const ends = bodies.map(({ id, name }) => ({ value: id, label: name }));
  return (
    <section className="asked">
      <div className="asked-tools">
        <Select
          aria-label="Add a lens"
          className="asked-add"
          placeholder="Add a lens"
          showSearch={{ optionFilterProp: "label" }}
          value={null}
          options={lenses.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(id: string | null) => id && add([id])}
        />
        <Button onClick={() => add(held(lenses).filter((id) => !asked.has(id)))}>Every lens I own</Button>
        <Button
          onClick={() =>
            onChange({
              demands: held(lenses)
                .flatMap((lens) =>
                  held(bodies).map((body) => ({
                    lens,
                    bodies: [body],
                    grade: "manual" as const,
                    probability: 0,
                    at_once: false,
                  })),
                )
                .slice(0, 400),
            })
          }
        >
          Everything on everything
        </Button>
        {demands.length > 0 && <Button onClick={() => onChange({ demands: [] })}>None</Button>}
      </div>
      {demands.length > 0 && (
        <div className="wide-table">
          <table className="data-table asked-table">
            <thead>
              <tr>
                <th scope="col">lens</th>
                <th scope="col">on any of</th>
                <th scope="col">at least</th>
                <th scope="col">infinity</th>
                <th scope="col">at the same time</th>
                <td />
              </tr>
              {demands.length > 1 && (
                <tr className="asked-all">
                  <th scope="row">all of them</th>
                  <td>
                    <Bodies
                      label="Bodies for all"
                      value={[]}
                      options={ends}
                      onChange={(some) => all({ bodies: some })}
                    />
                  </td>
                  <td>
                    <Grades label="Grade for all" value={null} onChange={(grade) => all({ grade })} />
                  </td>
                  <td>
                    <Chances label="Infinity for all" value={null} onChange={(probability) => all({ probability })} />
                  </td>
                  <td />
                  <td />
                </tr>
              )}
            </thead>
            <tbody>
              {demands.map((one, place) => (
                <Row
                  key={`${one.lens} ${place}`}
                  one={one}
                  name={names.get(one.lens) ?? one.lens}
                  ends={ends}
                  onChange={(next) => set(place, next)}
                  onLeave={() => onChange({ demands: demands.filter((_, other) => other !== place) })}
                />
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}

interface RowProps {
  one: Demand;
  name: string;
  ends: { value: string; label: string }[];
  onChange: (next: Partial<Demand>) => void;
  onLeave: () => void;
}

function Row({ one, name, ends, onChange, onLeave }: RowProps) {
  return (
    <tr data-demand={one.lens}>
      <th scope="row">{name}</th>
      <td>
        <Bodies
          label={`Bodies for ${name}`}
          value={one.bodies}
          options={ends}
          onChange={(bodies) => onChange({ bodies })}
        />
      </td>
      <td>
        <Grades label={`Grade for ${name}`} value={one.grade} onChange={(grade) => onChange({ grade })} />
      </td>
      <td>
        <Chances
          label={`Infinity for ${name}`}
          value={one.probability}
          onChange={(probability) => onChange({ probability })}
        />
      </td>
      <td>
        <input
          type="checkbox"
          aria-label={`${name} at the same time as others`}
          checked={one.at_once}
          onChange={() => onChange({ at_once: !one.at_once })}
        />
      </td>
      <td>
        <Plain className="unfold" onClick={onLeave}>
          leave out
        </Plain>
      </td>
    </tr>
  );
}

interface Picks<T> {
  label: string;
  value: T | null;
  onChange: (value: T) => void;
}

function Bodies({
  label,
  value,
  options,
  onChange,
}: Picks<string[]> & { options: { value: string; label: string }[] }) {
  return (
    <Select
      aria-label={label}
      mode="multiple"
      className="asked-bodies"
      maxTagCount={2}
      placeholder="bodies"
      showSearch={{ optionFilterProp: "label" }}
      value={value ?? []}
      options={options}
      onChange={(some: string[]) => some.length > 0 && onChange(some)}
    />
  );
}

const Grades = ({ label, value, onChange }: Picks<Grade>) => (
  <Select
    aria-label={label}
    className="asked-grade"
    placeholder="grade"
    value={value}
    options={GRADES.map((grade) => ({ value: grade, label: gradeTitle(grade) }))}
    onChange={onChange}
  />
);

const Chances = ({ label, value, onChange }: Picks<number>) => (
  <Select
    aria-label={label}
    className="asked-chance"
    placeholder="chance"
    value={value}
    options={CHANCES.map((one) => ({ value: one, label: one === 0 ? "as it comes" : `${one * 100} %` }))}
    onChange={onChange}
  />
);
