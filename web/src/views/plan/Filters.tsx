import { useQuery } from "@tanstack/react-query";
import InputNumber from "antd/es/input-number";
import Select from "antd/es/select";
import { useState } from "react";

import { filtersQuery, type FiltersPage, type PlanQuestion } from "../../api/planQueries";
import { useAddress } from "../../app/useAddress";
import { StackRow } from "../../drawing/plan/StackRow";
import { Failed } from "../../parts/Failed";
import { aperture, money } from "../../parts/format";
import { useBodies } from "./useBodies";

const EVS = [
  [-2, "candles"],
  [2, "dark nave"],
  [5, "lit interior"],
  [9, "overcast, open door"],
  [12, "overcast"],
  [15, "sun"],
  [17, "sun on stone"],
] as const;

/** One filter size for all lenses, and the filters that this light asks for. */
export function Filters({ question }: { question: PlanQuestion }) {
  const [{ practice }] = useAddress();
  const bodies = useBodies(question, practice);
  const lenses = [...new Set(question.demands.map(({ lens }) => lens))].slice(0, 60);
  const [size, setSize] = useState<number | null>(null);
  const [light, setLight] = useState({ dim_ev: 5, bright_ev: 15, shutter_s: 0.02, f_number: 2.8, iso: 100 });
  const body = bodies[0]?.value ?? "";
  const found = useQuery(filtersQuery({ lenses, body, size_mm: size, ...light }));
  if (lenses.length === 0) return <p>Say first which lenses must work.</p>;
  if (found.error) return <Failed error={found.error} onRetry={() => void found.refetch()} />;
  const page = found.data;
  if (!page) return <div className="skeleton" aria-busy="true" />;
  const { plan, stops, currency } = page;
  const fewest = Math.max(0, stops.dim_stops);
  const lacking = plan.lenses.filter(
    (one) => one.thread_mm !== null && one.rings.length === 0 && one.depth_mm === null,
  ).length;
  return (
    <div className="below">
      <section data-size={plan.size_mm}>
        <h2>One filter size for all</h2>
        <p className="asked-tools">
          <Select
            aria-label="Filter size"
            value={plan.size_mm}
            options={page.sizes_mm.map((one) => ({ value: one, label: `${one} mm` }))}
            onChange={setSize}
          />
          <b>{ringsSaid(plan, currency)}</b>
        </p>
        <ul className="stacks">
          {plan.lenses.map((one) => (
            <li key={one.lens} data-rings={one.lens}>
              <StackRow rings={one} size_mm={plan.size_mm} />
              <span>
                <b>{one.lens_name}</b> {one.thread_mm === plan.size_mm ? "takes it as it is." : ""} {one.said}
                {one.hoods.length > 0 && <span className="route-gives">{` Hood: ${one.hoods.join(", ")}.`}</span>}
              </span>
            </li>
          ))}
        </ul>
        {lacking > 0 && (
          <p className="route-gives">
            {`${lacking} lenses cannot be brought to ${plan.size_mm} mm with what is listed.`}
          </p>
        )}
      </section>
      <section>
        <h2>Fixed or variable</h2>
        <div className="light-form">
          {(["dim_ev", "bright_ev"] as const).map((key) => (
            <Select
              key={key}
              aria-label={key === "dim_ev" ? "The dimmest light" : "The brightest light"}
              value={light[key]}
              options={EVS.map(([value, label]) => ({ value, label: `EV ${value}, ${label}` }))}
              onChange={(value: number) => setLight((before) => ({ ...before, [key]: value }))}
            />
          ))}
          <Select
            aria-label="Shutter"
            value={light.shutter_s}
            options={[0.04, 0.02, 0.01, 0.004, 0.001].map((one) => ({
              value: one,
              label: `1/${Math.round(1 / one)} s`,
            }))}
            onChange={(shutter_s: number) => setLight((before) => ({ ...before, shutter_s }))}
          />
          <Select
            aria-label="Aperture"
            value={light.f_number}
            options={[1.4, 2, 2.8, 4, 5.6, 8].map((one) => ({ value: one, label: aperture(one) }))}
            onChange={(f_number: number) => setLight((before) => ({ ...before, f_number }))}
          />
          <InputNumber
            aria-label="ISO"
            min={1}
            value={light.iso}
            onChange={(iso) => setLight((before) => ({ ...before, iso: iso ?? 100 }))}
          />
        </div>
        <p>{stops.said || `This light asks for ${fewest.toFixed(1)} to ${stops.bright_stops.toFixed(1)} stops.`}</p>
        <ul className="filter-sets">
          {stops.sets.slice(0, 8).map((one) => (
            <li key={one.name} data-filter={one.ids.join(" ")}>
              <b>{one.name}</b>
              <span className="route-gives">{` ${priceOf(one, currency)}`}</span>
              <br />
              {one.variable ? `${one.least} to ${one.most} stops` : `${one.steps.join(", ")} stops`}
              {one.within_stops < 0.05
                ? "; takes all of it"
                : `; up to ${one.within_stops.toFixed(1)} stops are left to aperture or shutter`}
              {one.never_clear && "; never out of the light"}
              {one.colour_shift && `; colour: ${one.colour_shift}`}
              {one.cross && `; ${one.cross}`}
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}

function ringsSaid(plan: FiltersPage["plan"], currency: string): string {
  const count = Object.keys(plan.buy).length;
  if (count === 0) return "No ring has to be bought.";
  const rings = `${count} ${count === 1 ? "ring" : "rings"} to buy`;
  return plan.cost === null ? `${rings}, not all of them priced.` : `${rings}, ${money(plan.cost, currency)}.`;
}

const priceOf = (one: FiltersPage["stops"]["sets"][number], currency: string) =>
  one.at_hand ? "owned" : one.price === null ? "no price known" : money(one.price, currency);
