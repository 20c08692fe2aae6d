import "./FieldGroup.css";

import { memo, useState } from "react";

import type { FieldProblem } from "../../api/client";
import type { Kind } from "../../api/queries";
import { resolve, type Schema, worded } from "../../parts/fields";
import { Explained } from "../../parts/Explained";
import { titleOf } from "../../parts/labels";
import { termOf } from "../../parts/words";
import { type Choices, FieldInput } from "./FieldInput";
import type { Group } from "./groups";
import type { Item } from "./useItem";
import { Plain } from "../../parts/Plain";

// These say how an item is kept, not what it is: nobody assumes them.
const NEVER_ASSUMED = new Set([
  "id",
  "name",
  "aliases",
  "notes",
  "owned",
  "borrowed",
  "retired",
  "assumed",
  "evidence",
  "character",
  "measured_on",
]);

type Setting = Pick<Item, "set">;

interface Props extends Setting {
  kind: Kind;
  root: Schema;
  properties: Record<string, Schema>;
  group: Group;
  item: Item;
  choices: Choices;
  problems: ReadonlyMap<string, FieldProblem>;
}

/** Some fields of an item under one title; what does not decide is folded, and made when it is unfolded. */
export function FieldGroup({ group, properties, item, problems, ...rest }: Props) {
  const [unfolded, setUnfolded] = useState(false);
  const fields = group.fields.filter((key) => key in properties);
  const filled = fields.filter((key) => item.item[key] !== undefined).length;
  const wrong = fields.some((key) => problems.has(key));
  const body = () => (
    <div className="fields">
      {fields.map((key) => (
        <FieldOf
          key={key}
          name={key}
          property={properties[key] ?? {}}
          value={item.item[key]}
          doubted={item.doubted.has(key)}
          problem={problems.get(key)}
          {...rest}
        />
      ))}
    </div>
  );
  return group.open ? (
    <fieldset>
      <legend>{group.title}</legend>
      {body()}
    </fieldset>
  ) : (
    <details
      open={wrong || undefined}
      onToggle={(event) => {
        if (event.currentTarget.open) setUnfolded(true);
      }}
    >
      <summary>
        {group.title}
        <span className="wall-count">{filled ? ` ${filled}` : ""}</span>
      </summary>
      {(unfolded || wrong) && body()}
    </details>
  );
}

interface FieldProps extends Setting {
  name: string;
  kind: Kind;
  root: Schema;
  property: Schema;
  value: unknown;
  /** It is only assumed. */
  doubted: boolean;
  problem: FieldProblem | undefined;
  choices: Choices;
}

/** One field; it is made anew only when something of its own has changed. */
const FieldOf = memo(function FieldOf({
  name,
  kind,
  root,
  property,
  value,
  doubted,
  problem,
  choices,
  set,
}: FieldProps) {
  const { unit } = worded(name);
  const { schema } = resolve(root, property);
  const term = termOf(name, kind);
  const many = ["array", "object"].includes(schema.type ?? "") && !schema.prefixItems;
  const wide = many || name === "notes" || name === "name";
  return (
    <div className={`field ${wide ? "wide" : ""}`} data-field={name}>
      <div className="field-label">
        <span className="field-title">
          <label htmlFor={`field-${name}`}>{`${titleOf(name)}${unit ? `, ${unit}` : ""}`}</label>
          {term && <Explained term={term} />}
        </span>
        {value !== undefined && <Trust name={name} kind={kind} value={value} doubted={doubted} set={set} />}
      </div>
      <FieldInput
        root={root}
        schema={property}
        path={[name]}
        value={value}
        choices={choices}
        onChange={(next) => set(name, next)}
      />
      {problem && (
        <p className="field-problem" role="alert">
          {`${problem.message}${problem.hint ? ` (${problem.hint})` : ""}`}
        </p>
      )}
    </div>
  );
});

/** Whether a value is stated, assumed or measured. */
function Trust({ name, kind, value, doubted, set }: Pick<FieldProps, "name" | "kind" | "value" | "doubted" | "set">) {
  if (name.startsWith("measured_")) {
    return name === "measured_on" ? null : <span className="trust measured">measured</span>;
  }
  if (NEVER_ASSUMED.has(name) || kind === "rigs") return null;
  return (
    <Plain
      className={`trust ${doubted ? "assumed" : "stated"}`}
      title={
        doubted
          ? "Nobody stated or measured this: choose to say that it is stated"
          : "As stated: choose to say that it is only assumed"
      }
      onClick={() => set(name, value, !doubted)}
    >
      {doubted ? "assumed" : "stated"}
    </Plain>
  );
}
