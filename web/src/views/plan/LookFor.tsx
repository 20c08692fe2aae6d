import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import InputNumber from "antd/es/input-number";
import { useState } from "react";
import { Link } from "react-router";

import { addItem } from "../../api/items";
import type { PlanReport } from "../../api/planQueries";
import { mm } from "../../parts/format";
import { Refused } from "../../parts/Refused";
import { viaOf } from "../../parts/rig";
import { ringFields } from "../../parts/unlisted";

type Ring = PlanReport["look_for"][number];

interface Props {
  report: PlanReport;
  /** A ring has got a price: it is a piece now, and the plan is made anew. */
  onPriced: () => void;
}

/** Rings that nobody lists: what to look for, what it may be called, what to check, and its price once it is known. */
export function LookFor({ report, onPriced }: Props) {
  const { look_for: rings } = report;
  if (rings.length === 0) return null;
  return (
    <section data-look-for={rings.length}>
      <h2>{rings.length === 1 ? "One ring to look for" : `${rings.length} rings to look for`}</h2>
      <ol className="shop">
        {rings.map((ring) => (
          <li key={ring.id} data-ring={ring.id}>
            <RingToFind ring={ring} />
            <Found ring={ring} currency={report.currency} onPriced={onPriced} />
          </li>
        ))}
      </ol>
    </section>
  );
}

/** What is looked for, without anything to press: on the screen and on paper. */
export function RingToFind({ ring }: { ring: Ring }) {
  const lenses = [...new Set(ring.serves.map((one) => one.lens_name))];
  return (
    <>
      <p className="shop-name">
        <b>{ring.name}</b>
        <span className="route-gives">
          {` not listed, for ${lenses.length === 1 ? "one lens" : `${lenses.length} lenses`}`}
        </span>
      </p>
      {ring.needs.length > 0 && <p>{`It ${ring.needs.join(", and ")}.`}</p>}
      <ul className="without">
        {ring.serves.map((one) => (
          <li key={`${one.lens} ${one.body}`}>
            <Link to={`/?lens=${one.lens}&body=${one.body}&via=${viaOf(one.adapters)}`}>
              {`${one.lens_name} on ${one.body_name}`}
            </Link>
          </li>
        ))}
      </ul>
      <p>{`Sold as ${ring.labels.map((one) => `“${one}”`).join(", ")}.`}</p>
      <ul className="without" aria-label="Check in the hand">
        {ring.check.map((one) => (
          <li key={one}>{one}</li>
        ))}
      </ul>
      {ring.refuse.map((one) => (
        <p key={one.name} className="shop-refuse">{`Not ${one.name}. ${one.why}`}</p>
      ))}
    </>
  );
}

function Found({ ring, currency, onPriced }: { ring: Ring; currency: string; onPriced: () => void }) {
  const queries = useQueryClient();
  const [price, setPrice] = useState<number | null>(null);
  const add = useMutation({
    mutationFn: () => {
      const item = {
        ...ringFields(ring.id),
        name: ring.name.replace(`, ${mm(ring.length_mm)} mm`, ""),
        length_from: "gap",
        price,
      };
      return addItem("adapters", item);
    },
    onSuccess: async () => {
      await queries.invalidateQueries();
      onPriced();
    },
  });
  return (
    <>
      <p className="shop-does">
        <InputNumber
          aria-label={`Price of ${ring.name}`}
          placeholder="its price"
          min={0}
          max={10_000_000}
          value={price}
          onChange={setPrice}
          suffix={currency}
          className="look-for-price"
        />
        <Button disabled={price === null} loading={add.isPending} onClick={() => add.mutate()}>
          Plan with it
        </Button>
      </p>
      {add.error && <Refused error={add.error} />}
    </>
  );
}
