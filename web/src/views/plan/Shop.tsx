import Button from "antd/es/button";

import type { PlanAnswer, PlanQuestion, ShopLine } from "../../api/planQueries";
import { keep, tablesOf } from "../../parts/csv";
import { money } from "../../parts/format";
import { Printed, PrintButton } from "../../parts/Printed";

interface Props {
  answer: PlanAnswer;
  name: string;
  question: PlanQuestion;
  onChange: (next: Partial<PlanQuestion>) => void;
}

/** What to buy, to be taken to the shop: both ends of each label, what to refuse, what it serves. */
export function Shop({ answer, name, question, onChange }: Props) {
  const { report, shop } = answer;
  const sold = report.sold.map((one) => `${one.name} for ${money(one.price.amount, report.currency)}`).join(", ");
  if (shop.length === 0)
    return (
      <section>
        <h2>What to buy</h2>
        <p data-state="nothing-to-buy">
          {report.met > 0 ? "Nothing: what you own does it." : "Nothing that is listed would help."}
        </p>
      </section>
    );
  return (
    <section data-shop={shop.length}>
      <h2>What to buy</h2>
      <ol className="shop">
        {shop.map((line) => (
          <li key={`${line.piece.kind} ${line.piece.id}`} data-buy={line.piece.id}>
            <Line line={line} currency={report.currency} serves={servesOf(line, answer)} />
            <p className="shop-does">
              <Button size="small" onClick={() => onChange({ sold_out: [...question.sold_out, line.piece.id] })}>
                Sold out
              </Button>
              {line.piece.kind === "adapters" && (
                <Button size="small" onClick={() => onChange({ without: [...question.without, line.piece.id] })}>
                  Not this one
                </Button>
              )}
            </p>
          </li>
        ))}
      </ol>
      {report.sold.length > 0 && <p>{`Sold: ${sold}.`}</p>}
      <p className="shop-out">
        <PrintButton sheet="shop">Print the list</PrintButton>
        <Button onClick={() => keep(`${name}.csv`, "text/csv", tablesOf(rowsOf(answer)))}>As a table</Button>
      </p>
      <Printed name="shop" usual>
        {() => (
          <>
            <h1>{`${name}: ${money(report.cost, report.currency)}`}</h1>
            <ol className="shop">
              {shop.map((line) => (
                <li key={`${line.piece.kind} ${line.piece.id}`}>
                  <Line line={line} currency={report.currency} serves={servesOf(line, answer)} />
                </li>
              ))}
            </ol>
          </>
        )}
      </Printed>
    </section>
  );
}

interface LineProps {
  line: ShopLine;
  currency: string;
  serves: string;
}

function Line({ line, currency, serves }: LineProps) {
  const { piece } = line;
  const on = piece.price.on ? ` as of ${piece.price.on}` : "";
  return (
    <>
      <p className="shop-name">
        <b>{`${piece.count > 1 ? `${piece.count} × ` : ""}${piece.name}`}</b>
        <span>{`${money(piece.price.amount, currency)} ${piece.price.basis}${on}`}</span>
      </p>
      {line.lens_end && (
        <p className="shop-ends">
          <span className="shop-end">{`lens side: ${line.lens_end}`}</span>
          <span className="shop-end">{`camera side: ${line.camera_end ?? ""}`}</span>
        </p>
      )}
      {line.also_called.length > 0 && <p>{`Also sold as ${line.also_called.join(", ")}.`}</p>}
      <p className="route-gives">{`For ${serves}.`}</p>
      {line.refuse.length > 0 && (
        <ul className="shop-refuse bulleted">
          {line.refuse.map(({ name, why }) => (
            <li key={name}>{`Not ${name}: ${why}`}</li>
          ))}
        </ul>
      )}
      {line.minds.map((one) => (
        <p key={one} className="shop-doubt">
          {one}
        </p>
      ))}
      {line.doubts.map((doubt) => (
        <p key={doubt} className="shop-doubt">
          {doubt}
        </p>
      ))}
    </>
  );
}

function servesOf({ piece }: ShopLine, { report }: PlanAnswer): string {
  const served = report.serves.filter(({ demand }) => piece.serves.includes(demand));
  return served.map((one) => `${one.lens_name} on ${one.body_name}`).join("; ") || "what the others lack";
}

const rowsOf = (answer: PlanAnswer) =>
  answer.shop.map((line) => ({
    count: line.piece.count,
    name: line.piece.name,
    price: line.piece.price.amount,
    currency: answer.report.currency,
    basis: line.piece.price.basis,
    as_of: line.piece.price.on,
    lens_side: line.lens_end,
    camera_side: line.camera_end,
    also_sold_as: line.also_called.join("; "),
    for: servesOf(line, answer),
    refuse: line.refuse.map(({ name }) => name).join("; "),
    doubts: [...line.minds, ...line.doubts].join(" "),
  }));
