import { useQuery } from "@tanstack/react-query";
import Select from "antd/es/select";
import { useState } from "react";

import { gridQuery, type PlanQuestion, variantsQuery } from "../../api/planQueries";
import type { Chosen } from "../../app/practice";
import { GradeMark, gradeWord } from "../../drawing/GradeMark";
import { Failed } from "../../parts/Failed";
import { money } from "../../parts/format";
import { useBodies } from "./useBodies";
import { TableHead } from "../../parts/TableHead";

/** The variants of one ring: what each adds to the simplest that works, and for how much more. */
export function Variants({ question, practice }: { question: PlanQuestion; practice: Chosen }) {
  const lenses = (useQuery(gridQuery(practice)).data?.report.lenses ?? []).map(({ id, name }) => ({
    value: id,
    label: name,
  }));
  const bodies = useBodies(question, practice);
  const [lens, setLens] = useState(question.demands[0]?.lens ?? "");
  const [chosen, setChosen] = useState<string | null>(null);
  const body = chosen ?? bodies[0]?.value ?? "";
  const found = useQuery(variantsQuery(lens, body, practice));
  const report = found.data;
  return (
    <section>
      <p className="asked-tools">
        <Select
          aria-label="Lens"
          className="asked-add"
          showSearch={{ optionFilterProp: "label" }}
          value={lens || null}
          placeholder="a lens"
          options={lenses}
          onChange={(id: string | null) => setLens(id ?? "")}
        />
        <Select aria-label="Body" className="asked-add" value={body} options={bodies} onChange={setChosen} />
      </p>
      {found.error && <Failed error={found.error} onRetry={() => void found.refetch()} />}
      {report?.variants.length === 0 && <p data-state="nothing">No single ring joins these two and works.</p>}
      {report && report.variants.length > 0 && (
        <div className="wide-table">
          <table className="data-table" data-table="variants">
            <TableHead columns={["ring", "price", "more", "comes to", "adds", "lacks"]} />
            <tbody>
              {report.variants.map((one, place) => (
                <tr key={one.id} data-variant={one.id}>
                  <th scope="row">
                    {one.name}
                    {one.at_hand > 0 && <span className="route-gives"> owned</span>}
                  </th>
                  <td className="asked-price">
                    {one.price === null ? "not known" : money(one.price, report.currency)}
                    {one.price_used !== null && <span className="route-gives">{` used ${one.price_used}`}</span>}
                    {one.price_on && <span className="route-gives">{` ${one.price_on}`}</span>}
                  </td>
                  <td className="asked-price">
                    {place === 0
                      ? ""
                      : one.more === null
                        ? "not known"
                        : `${one.more >= 0 ? "+" : "−"}${Math.abs(one.more)}`}
                  </td>
                  <td>
                    <GradeMark grade={one.grade} size={18} /> {gradeWord(one.grade)}
                  </td>
                  <td>{place === 0 ? "the simplest" : one.adds.join("; ") || "nothing"}</td>
                  <td>{one.lacks.join("; ")}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}
