import { useQuery } from "@tanstack/react-query";
import Select from "antd/es/select";
import { useState } from "react";
import { Link } from "react-router";

import { type AdaptOrNative, type OptionsFor, optionsQuery, type PlanQuestion } from "../../api/planQueries";
import type { Chosen } from "../../app/practice";
import { GradeMark, gradeWord } from "../../drawing/GradeMark";
import { Failed } from "../../parts/Failed";
import { money } from "../../parts/format";
import { useBodies } from "./useBodies";
import { viaOf } from "../../parts/rig";
import { TableHead } from "../../parts/TableHead";

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
  const found = useQuery(optionsQuery(question, body, practice));
  if (question.demands.length === 0) return <p>Say first which lenses must work.</p>;
  return (
    <section>
      <p className="asked-tools">
        <Select aria-label="On which body" className="asked-add" value={body} options={bodies} onChange={setChosen} />
      </p>
      {found.error && <Failed error={found.error} onRetry={() => void found.refetch()} />}
      {found.data ? (
        <Sums found={found.data} currency={currency} />
      ) : (
        !found.error && <div className="skeleton plan-sums-waiting" aria-busy="true" />
      )}
      <div className="wide-table">
        <table className="data-table" data-table="native">
          <TableHead columns={["lens", "way", "price", "comes to", "loses"]} />
          <tbody>
            {(found.data?.options ?? []).flatMap((one) =>
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

/** What both ways come to in all, side by side. */
function Sums({ found, currency }: { found: AdaptOrNative; currency: string }) {
  const { adapted, native } = found;
  const rest = native.price - native.resale;
  const lacks = (one: AdaptOrNative["adapted"]) =>
    one.met < one.lenses ? `, ${one.met} of ${one.lenses} lenses` : ", all of them";
  return (
    <dl className="plan-sums" data-sums>
      <div data-sum="adapted">
        <dt>everything adapted</dt>
        <dd>{`${money(adapted.price, currency)}${lacks(adapted)}`}</dd>
      </div>
      <div data-sum="native">
        <dt>everything native</dt>
        <dd>
          {`${money(native.price, currency)}${lacks(native)}`}
          {native.unpriced.length > 0 && `; without a price: ${native.unpriced.join(", ")}`}
        </dd>
      </div>
      <div data-sum="resale">
        <dt>native, less what the others bring</dt>
        <dd>
          {money(rest, currency)}
          {native.unsold.length > 0 && `; what ${native.unsold.join(", ")} would bring nobody said`}
        </dd>
      </div>
    </dl>
  );
}

function addressOf({ lens, kind, adapters }: OptionsFor["options"][number], body: string): string {
  return `/?lens=${lens}&body=${body}${kind === "adapter" ? `&via=${viaOf(adapters)}` : ""}`;
}
