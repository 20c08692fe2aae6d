import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";

import type { Practice } from "../../api/client";
import { type GridCell, type GridEnds, whyQuery } from "../../api/planQueries";
import { GradeMark } from "../../drawing/GradeMark";
import { AwaySaid } from "../../parts/Away";
import { useSettled } from "../../parts/useSettled";

interface Props {
  lens: GridEnds;
  body: GridEnds;
  cell: GridCell | undefined;
  practice: Practice;
  onOpen: () => void;
}

/** Why the pair that is pointed at comes to what it does, in one line; one step to its light path. */
export function WhyLine({ lens, body, cell, practice, onOpen }: Props) {
  const pair = useSettled(`${lens.id} ${body.id}`, 60);
  const [of = "", on = ""] = pair.split(" ");
  const why = useQuery(whyQuery(of, on, practice));
  const said = why.data?.lens === lens.id && why.data.body === body.id ? why.data : null;
  const grade = cell?.owned_grade ?? cell?.market_grade ?? null;
  const through = said?.adapters.join(" + ") ?? "";
  return (
    <div className="grid-why" data-why={said ? `${lens.id} ${body.id}` : ""}>
      {grade ? <GradeMark grade={grade} size={30} /> : <span className="grid-why-none" />}
      <p>
        <b>{`${lens.name} on ${body.name}.`}</b> <AwaySaid id={lens.id} /> <AwaySaid id={body.id} />{" "}
        {said ? said.sentence : <span className="grid-why-wait">{"\u00a0"}</span>}
        {said && through && <span className="route-gives">{` ${through}, ${paid(said)}.`}</span>}
        {said?.cautions.map(({ code, text }) => (
          <span key={code} className="grid-why-caution">{` ${text}`}</span>
        ))}
        {said?.usable_says.map((one) => (
          <span key={one} className="route-gives" data-usable-says>{` ${one}.`}</span>
        ))}
        {said?.unlisted && <span className="grid-why-better">{` ${said.unlisted}`}</span>}
        {said?.better && <span className="grid-why-better">{` Better with ${betterSaid(said.better)}`}</span>}
      </p>
      <Button onClick={onOpen}>Light path</Button>
    </div>
  );
}

const paid = ({ at_hand, price }: { at_hand: boolean; price: number | null }) =>
  at_hand ? "owned" : price === null ? "no price known" : `${price} to buy`;

interface Better {
  sentence: string;
  adapters: readonly string[];
  price: number | null;
}

const betterSaid = ({ sentence, adapters, price }: Better) =>
  `${adapters.join(" + ")}, ${paid({ at_hand: false, price })}: ${sentence}`;
