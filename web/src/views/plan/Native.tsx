import { useQuery } from "@tanstack/react-query";
import Select from "antd/es/select";
import { useState } from "react";
import { Link } from "react-router";

import { type OptionsFor, optionsQuery, type PlanQuestion } from "../../api/planQueries";
import type { Chosen } from "../../app/practice";
import { GradeMark, gradeWord } from "../../drawing/GradeMark";
import { Failed } from "../../parts/Failed";
import { money } from "../../parts/format";
import { useBodies } from "./useBodies";
import { viaOf } from "../../parts/rig";

interface Props {
  question: PlanQuestion;
  practice: Chosen;
  currency: string;
}

const KINDS: Record<OptionsFor["options"][number]["kind"], string> = {
  none_needed: "no adapter needed",
  adapter: "adapt",
  native_owned: "native, yours",
  native_new: "native, new",
  native_used: "native, used",
};

/** Adapt or buy native, lens by lens: what each way costs, and what it loses. */
export function Native({ question, practice, currency }: Props) {
  const bodies = useBodies(question, practice);
  const [chosen, setChosen] = useState<string | null>(null);
  const body = chosen ?? bodies[0]?.value ?? "";
  const lenses = [...new Set(question.demands.map(({ lens }) => lens))].slice(0, 60);
  const found = useQuery(optionsQuery(lenses, body, practice));
  if (lenses.length === 0) return <p>Say first which lenses must work.</p>;
  return (
    <section>
      <p className="asked-tools">
        <Select
          aria-label="On which body"
          className="asked-add"
          value={body}
          options={bodies}
          onChange={setChosen}
        />
      </p>
      {found.error && <Failed error={found.error} onRetry={() => void found.refetch()} />}
      <div className="wide-table">
        <table className="data-table" data-table="native">
          <thead>
            <tr>
              <th scope="col">lens</th>
              <th scope="col">way</th>
              <th scope="col">price</th>
              <th scope="col">comes to</th>
              <th scope="col">loses</th>
            </tr>
          </thead>
          <tbody>
            {(found.data ?? []).flatMap((one) =>
              (one.options.length > 0 ? one.options : [null]).map((option, place) => (
                <tr
                  key={`${one.lens} ${option?.kind ?? ""} ${option?.name ?? ""}`}
                  data-option={option?.kind ?? "none"}
                >
                  {place === 0 && (
                    <th scope="row" rowSpan={Math.max(1, one.options.length)}>
                      {one.lens_name}
                    </th>
                  )}
                  {option === null ? (
                    <td colSpan={4}>nothing that is listed does it</td>
                  ) : (
                    <>
                      <td>
                        {`${KINDS[option.kind]}: `}
                        <Link to={addressOf(option, one.body)}>{option.name}</Link>
                      </td>
                      <td className="asked-price">
                        {option.price === null
                          ? "not known"
                          : option.price === 0
                            ? "nothing"
                            : money(option.price, currency)}
                        {option.price_on && <span className="route-gives">{` ${option.price_on}`}</span>}
                      </td>
                      <td>
                        <GradeMark grade={option.grade} size={18} /> {gradeWord(option.grade)}
                      </td>
                      <td>{option.loses.join("; ") || "nothing"}</td>
                    </>
                  )}
                </tr>
              )),
            )}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function addressOf({ lens, kind, adapters }: OptionsFor["options"][number], body: string): string {
  return `/?lens=${lens}&body=${body}${kind === "adapter" ? `&via=${viaOf(adapters)}` : ""}`;
}
