import { useQuery } from "@tanstack/react-query";
import InputNumber from "antd/es/input-number";
import Select from "antd/es/select";
import type { ReactNode } from "react";

import type { PlanQuestion } from "../../api/planQueries";
import { shelfQuery } from "../../api/queries";
import { Plain } from "../../parts/Plain";

interface Props {
  question: PlanQuestion;
  currency: string;
  onChange: (next: Partial<PlanQuestion>) => void;
}

/** What binds a plan: money, how many at a time, weight, what is ruled out, rented, bought and sold. */
export function Limits({ question, currency, onChange }: Props) {
  const adapters = useQuery(shelfQuery("adapters")).data?.rows ?? [];
  const lenses = useQuery(shelfQuery("lenses")).data?.rows ?? [];
  const bodies = useQuery(shelfQuery("bodies")).data?.rows ?? [];
  const all = [...bodies, ...lenses, ...adapters].map(({ id, name }) => ({ value: id, label: name }));
  const held = [...bodies, ...lenses, ...adapters].filter(({ owned }) => owned > 0);
  const some = (label: string, key: "without" | "sold_out" | "buy" | "sell" | "rent", options: typeof all) => (
    <Field label={label}>
      <Select
        aria-label={label}
        mode="multiple"
        allowClear
        placeholder="none"
        showSearch={{ optionFilterProp: "label" }}
        value={question[key]}
        options={options}
        onChange={(ids: string[]) => onChange({ [key]: ids })}
      />
    </Field>
  );
  const named = (rows: readonly { id: string; name: string }[]) =>
    rows.map(({ id, name }) => ({ value: id, label: name }));
  return (
    <section className="limits">
      <h2>Within which limits</h2>
      <Field label={`At most, ${currency}`}>
        <InputNumber
          aria-label={`At most, ${currency}`}
          min={0}
          placeholder="no limit"
          value={question.budget ?? null}
          onChange={(budget) => onChange({ budget })}
        />
      </Field>
      <Field label="Adapters">
        <Toggle
          options={[
            [false, "one for each mount"],
            [true, "one left on each lens"],
          ]}
          value={question.together}
          onChange={(together) => onChange({ together })}
        />
      </Field>
      <Field label="Prices">
        <Toggle
          options={[
            ["new", "new"],
            ["used", "used where known"],
          ]}
          value={question.prices}
          onChange={(prices) => onChange({ prices })}
        />
      </Field>
      <Field label="Ruled out">
        <span className="limit-toggles">
          <RuledOut question={question} onChange={onChange} />
        </span>
      </Field>
      <Field label="Tolerance at most, mm">
        <InputNumber
          aria-label="Tolerance at most, mm"
          min={0}
          max={10}
          step={0.01}
          placeholder="any"
          value={question.worst_tolerance_mm ?? null}
          onChange={(worst_tolerance_mm) => onChange({ worst_tolerance_mm })}
        />
      </Field>
      <Field label="Weight of the adapters, g">
        <InputNumber
          aria-label="Weight of the adapters, g"
          min={0}
          placeholder="any"
          value={question.carry_g ?? null}
          onChange={(carry_g) => onChange({ carry_g: carry_g === 0 ? null : carry_g })}
        />
      </Field>
      <Field label="Not by these makers, or words">
        <Select
          aria-label="Not by these makers, or words"
          mode="tags"
          placeholder="none"
          value={question.without_words}
          onChange={(without_words: string[]) => onChange({ without_words })}
        />
      </Field>
      {some("Not these adapters", "without", named(adapters))}
      {some("Sold out", "sold_out", named(adapters))}
      {some("Lenses and bodies that may be bought", "buy", named([...bodies, ...lenses]))}
      {some("May be sold", "sell", named(held))}
      {some("Rented by the day", "rent", all)}
      {question.rent.length > 0 && (
        <Field label="Days">
          <InputNumber
            aria-label="Days"
            min={1}
            max={365}
            value={question.days}
            onChange={(days) => onChange({ days: days ?? 1 })}
          />
        </Field>
      )}
    </section>
  );
}

const Field = ({ label, children }: { label: string; children: ReactNode }) => (
  <div className="limit">
    <span className="limit-label">{label}</span>
    {children}
  </div>
);

interface ToggleProps<T> {
  options: readonly (readonly [T, string])[];
  value: T;
  onChange: (value: T) => void;
}

function Toggle<T extends string | boolean>({ options, value, onChange }: ToggleProps<T>) {
  return (
    <span className="limit-toggles">
      {options.map(([one, label]) => (
        <Pressed key={label} on={one === value} onPress={() => onChange(one)}>
          {label}
        </Pressed>
      ))}
    </span>
  );
}

const Pressed = ({ on, onPress, children }: { on: boolean; onPress: () => void; children: ReactNode }) => (
  <Plain className="filter-toggle" aria-pressed={on} onClick={onPress}>
    {children}
  </Plain>
);

const RULES = [
  ["only_locking", "no lock"],
  ["no_glass", "glass"],
  ["full_speed", "slow"],
] as const;

/** What is not used, owned or not. */
function RuledOut({ question, onChange }: Pick<Props, "question" | "onChange">) {
  return RULES.map(([key, label]) => (
    <Pressed key={key} on={question[key]} onPress={() => onChange({ [key]: !question[key] })}>
      {label}
    </Pressed>
  ));
}
