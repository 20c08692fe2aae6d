import "./FieldGroup.css";

import type { FieldProblem } from "../../api/client";
import type { Kind } from "../../api/queries";
import { resolve, type Schema, worded } from "../../parts/fields";
import { Explained } from "../../parts/Explained";
import { titleOf } from "../../parts/labels";
import { termOf } from "../../parts/words";
import { type Choices, FieldInput } from "./FieldInput";
import type { Group } from "./groups";
import type { Item } from "./useItem";

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

interface Props {
  kind: Kind;
  root: Schema;
  properties: Record<string, Schema>;
  group: Group;
  item: Item;
  choices: Choices;
  problems: ReadonlyMap<string, FieldProblem>;
}

/** Some fields of an item under one title; what does not decide is folded. */
export function FieldGroup({ group, ...rest }: Props) {
  const { properties, item, problems } = rest;
  const fields = group.fields.filter((key) => key in properties);
  const filled = fields.filter((key) => item.item[key] !== undefined).length;
  const wrong = fields.some((key) => problems.has(key));
  const body = (
    <div className="fields">
      {fields.map((key) => (
        <FieldOf key={key} name={key} {...rest} />
      ))}
    </div>
  );
  return group.open ? (
    <fieldset>
      <legend>{group.title}</legend>
      {body}
    </fieldset>
  ) : (
    <details open={wrong || undefined}>
      <summary>
        {group.title}
        <span className="wall-count">{filled ? ` ${filled}` : ""}</span>
      </summary>
      {body}
    </details>
  );
}

function FieldOf({
  name,
  kind,
  root,
  properties,
  item,
  choices,
  problems,
}: Omit<Props, "group"> & { name: string }) {
  const { unit } = worded(name);
  const property = properties[name] ?? {};
  const { schema } = resolve(root, property);
  const problem = problems.get(name);
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
        {item.item[name] !== undefined && <Trust name={name} kind={kind} item={item} />}
      </div>
      <FieldInput
        root={root}
        schema={property}
        path={[name]}
        value={item.item[name]}
        choices={choices}
        onChange={(value) => item.set(name, value)}
      />
      {problem && (
        <p className="field-problem" role="alert">
          {`${problem.message}${problem.hint ? ` (${problem.hint})` : ""}`}
        </p>
      )}
    </div>
  );
}

/** Whether a value is stated, assumed or measured. */
function Trust({ name, kind, item }: { name: string; kind: Kind; item: Item }) {
  if (name.startsWith("measured_")) {
    return name === "measured_on" ? null : <span className="trust measured">measured</span>;
  }
  if (NEVER_ASSUMED.has(name) || kind === "rigs") return null;
  const assumed = item.doubted.has(name);
  return (
    <button
      type="button"
      className={`trust ${assumed ? "assumed" : "stated"}`}
      title={
        assumed
          ? "Nobody stated or measured this: choose to say that it is stated"
          : "As stated: choose to say that it is only assumed"
      }
      onClick={() => item.set(name, item.item[name], !assumed)}
    >
      {assumed ? "assumed" : "stated"}
    </button>
  );
}
