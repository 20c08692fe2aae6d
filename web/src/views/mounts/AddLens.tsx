import "./AddLens.css";

import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Form from "antd/es/form";
import Input from "antd/es/input";
import InputNumber from "antd/es/input-number";
import { useNavigate } from "react-router";

import { type KeyReport, ProblemError, type SystemPage } from "../../api/client";
import { addItem } from "../../api/items";
import { today } from "../../parts/format";

interface Values {
  name: string;
  focal: number;
  widest: number;
  smallest: number;
  nearest: number | null;
}

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
  return (
    <section className="add-lens">
      <h2>Add this lens</h2>
      <Form<Values>
        layout="vertical"
        requiredMark={false}
        initialValues={{ widest: 2, smallest: 16, nearest: null }}
        onFinish={(values) => add.mutate(values)}
      >
        <Form.Item name="name" label="Name, as you call it" rules={[{ required: true, message: "A name is needed." }]}>
          <Input maxLength={120} />
        </Form.Item>
        <div className="add-row">
          <Form.Item name="focal" label="Focal length, mm" rules={[{ required: true, message: "Needed." }]}>
            <InputNumber min={1} max={5000} />
          </Form.Item>
          <Form.Item name="widest" label="Widest f/" rules={[{ required: true, message: "Needed." }]}>
            <InputNumber min={0.5} max={90} step={0.1} />
          </Form.Item>
          <Form.Item name="smallest" label="Smallest f/" rules={[{ required: true, message: "Needed." }]}>
            <InputNumber min={0.5} max={90} />
          </Form.Item>
          <Form.Item name="nearest" label="Closest, m">
            <InputNumber min={0.01} max={100} step={0.05} placeholder="unknown" />
          </Form.Item>
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
      </Form>
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
