import "./AddLens.css";

import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import InputNumber from "antd/es/input-number";
import { useState } from "react";
import { useNavigate } from "react-router";

import { type KeyReport, ProblemError, type SystemPage } from "../../api/client";
import { addItem } from "../../api/items";
import { today } from "../../parts/format";
import { Labelled } from "../../parts/Labelled";

interface Values {
  name: string;
  focal: number;
  widest: number;
  smallest: number;
  nearest: number | null;
}

/** What stands in the fields: nothing, where nothing was typed. */
interface Typed {
  name: string;
  focal: number | null;
  widest: number | null;
  smallest: number | null;
  nearest: number | null;
}

const NUMBERS = [
  { key: "focal", label: "Focal length, mm", needed: true, min: 1, max: 5000 },
  { key: "widest", label: "Widest f/", needed: true, min: 0.5, max: 90, step: 0.1 },
  { key: "smallest", label: "Smallest f/", needed: true, min: 0.5, max: 90 },
  { key: "nearest", label: "Closest, m", needed: false, min: 0.01, max: 100, step: 0.05, placeholder: "unknown" },
] as const;

const SETTLED = "The parts that were seen come with it. What is not known stays unknown.";
const OPEN =
  "Its generation stays open, and what was seen is noted with it: until it is settled, " + "what could break counts.";

/** The identified lens into the collection, with what was seen on it, and on to the light path. */
export function AddLens({ report, page }: { report: KeyReport; page: SystemPage }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const add = useMutation({
    mutationFn: (values: Values) => addItem("lenses", lensOf(values, report, page)),
    onSuccess: async ({ id }) => {
      await queries.invalidateQueries();
      await navigate(`/?lens=${id}`);
    },
  });
  const problems = add.error instanceof ProblemError ? add.error.problem.errors : [];
  const [values, setValues] = useState<Typed>({ name: "", focal: null, widest: 2, smallest: 16, nearest: null });
  const [asked, setAsked] = useState(false);
  const put = (change: Partial<Typed>) => setValues((now) => ({ ...now, ...change }));
  const lacks = (value: string | number | null, told: string) =>
    asked && (value === null || value === "") ? told : "";
  const submit = (event: { preventDefault: () => void }) => {
    event.preventDefault();
    setAsked(true);
    const { name, focal, widest, smallest, nearest } = values;
    if (name.trim() && focal !== null && widest !== null && smallest !== null)
      add.mutate({ name, focal, widest, smallest, nearest });
  };
  return (
    <section className="add-lens">
      <h2>Add this lens</h2>
      <form onSubmit={submit} noValidate>
        <Labelled
          className="add-field"
          label="Name, as you call it"
          wrong={lacks(values.name.trim(), "A name is needed.")}
        >
          {(id, described) => (
            <Input
              id={id}
              aria-describedby={described}
              maxLength={120}
              value={values.name}
              onChange={(event) => put({ name: event.target.value })}
            />
          )}
        </Labelled>
        <div className="add-row">
          {NUMBERS.map(({ key, label, needed, ...bounds }) => (
            <Labelled key={key} className="add-field" label={label} wrong={needed ? lacks(values[key], "Needed.") : ""}>
              {(id, described) => (
                <InputNumber
                  id={id}
                  aria-describedby={described}
                  {...bounds}
                  value={values[key]}
                  onChange={(value) => put({ [key]: value })}
                />
              )}
            </Labelled>
          ))}
        </div>
        {add.isError && (
          <div role="alert" className="problems">
            <p>{add.error.message}</p>
            {problems.slice(0, 4).map((entry) => (
              <p key={entry.place}>{`${entry.place}: ${entry.message}`}</p>
            ))}
          </div>
        )}
        <Button type="primary" htmlType="submit" loading={add.isPending}>
          Add it, and to the light path
        </Button>
      </form>
      <p className="route-gives">It is kept as owned. {report.settled ? SETTLED : OPEN}</p>
    </section>
  );
}

/** The lens as typed, with what the key says may be stored of it. */
function lensOf(values: Values, { known }: KeyReport, page: SystemPage) {
  const { generation, features, conversion, claim, note } = known;
  return {
    name: values.name.trim(),
    mount: page.mount.id,
    ...(generation && features
      ? { generation, features, ...(conversion === "none" ? {} : { conversion }) }
      : { evidence: [{ claim, note, verdict: "confirmed", source: "own", on: today() }] }),
    focal_length_mm: [values.focal, values.focal],
    f_number: [values.widest, values.smallest],
    ...(values.nearest ? { min_focus_m: values.nearest } : {}),
    owned: 1,
  };
}
