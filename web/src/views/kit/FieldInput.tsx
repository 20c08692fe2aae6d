import "./FieldInput.css";

import Button from "antd/es/button";
import Checkbox from "antd/es/checkbox";
import Input from "antd/es/input/Input";
import TextArea from "antd/es/input/TextArea";
import InputNumber from "antd/es/input-number";
import Select from "antd/es/select";

import { lengthMm } from "../../parts/lengths";
import { titleOf } from "../../parts/labels";
import { type Fields, resolve, type Schema, type Value, worded } from "../../parts/fields";

export interface Option {
  value: string;
  label: string;
}

/** What a field may name, from the collection: mounts, generations, features, protocols, pieces. */
export type Choices = (key: string, path: readonly string[]) => Option[] | null;

interface Props {
  root: Schema;
  schema: Schema;
  /** The way to the field: its own name is the last. */
  path: readonly string[];
  value: Value;
  placeholder?: string;
  choices: Choices;
  onChange: (value: Value) => void;
}

const SINGLE_ENDED = new Set(["focal_length_mm"]);
const LONG = new Set(["notes", "note", "text", "reflections", "reason", "action", "claim"]);

/** The control for one field, by what its schema allows. */
export function FieldInput({ root, schema: given, path, value, placeholder, choices, onChange }: Props) {
  const { schema, optional } = resolve(root, given);
  const key = path.at(-1) ?? "";
  const id = `field-${path.join("-")}`;
  const named = choices(key, path);
  if (named && schema.type !== "array") {
    return (
      <Select<string>
        id={id}
        value={typeof value === "string" && value ? value : null}
        allowClear={optional}
        showSearch={{ optionFilterProp: "label" }}
        placeholder={placeholder ?? (optional ? "not known" : "choose")}
        options={named}
        onChange={(next: string | undefined) => onChange(next ?? null)}
      />
    );
  }
  if (schema.enum) {
    const chosen = value ?? given.default ?? null;
    return (
      <Select<string | number>
        id={id}
        value={typeof chosen === "string" || typeof chosen === "number" ? chosen : null}
        allowClear={optional}
        placeholder={placeholder ?? (optional ? "not known" : "choose")}
        options={schema.enum.map((word) => ({ value: word, label: String(word).replaceAll("_", " ") }))}
        onChange={(next: string | number | undefined) => onChange(next ?? null)}
      />
    );
  }
  switch (schema.type) {
    case "boolean":
      return (
        <Checkbox
          id={id}
          checked={value === undefined ? given.default === true : value === true}
          onChange={(event) => onChange(event.target.checked)}
        >
          yes
        </Checkbox>
      );
    case "number":
    case "integer":
      return (
        <InputNumber
          id={id}
          value={typeof value === "number" ? value : null}
          placeholder={
            placeholder ?? (typeof given.default === "number" ? String(given.default) : optional ? "not known" : "")
          }
          {...(schema.minimum === undefined ? {} : { min: schema.minimum })}
          {...(schema.maximum === undefined ? {} : { max: schema.maximum })}
          {...(schema.type === "integer" ? { precision: 0 } : {})}
          parser={(text) => numberIn(text ?? "", key)}
          onChange={(next) => onChange(next)}
        />
      );
    case "array":
      return schema.prefixItems ? (
        <TwoNumbers id={id} value={value} follows={SINGLE_ENDED.has(key)} onChange={onChange} />
      ) : (
        <Many
          root={root}
          schema={schema}
          path={path}
          value={value}
          choices={choices}
          onChange={onChange}
          named={named}
          optional={optional}
          id={id}
        />
      );
    case "object":
      return schema.properties ? (
        <Nested
          root={root}
          schema={schema}
          path={path}
          value={value}
          choices={choices}
          onChange={onChange}
          optional={optional}
        />
      ) : (
        <ByName schema={schema} id={id} value={value} onChange={onChange} />
      );
    default:
      return LONG.has(key) ? (
        <TextArea
          id={id}
          value={typeof value === "string" ? value : ""}
          rows={key === "notes" ? 2 : 1}
          {...most(schema)}
          onChange={(event) => onChange(event.target.value)}
        />
      ) : (
        <Input
          id={id}
          value={typeof value === "string" ? value : ""}
          {...most(schema)}
          placeholder={placeholder ?? (schema.pattern?.includes("\\d{4}") ? "2026-11-25" : "")}
          onChange={(event) => onChange(event.target.value || (optional ? null : ""))}
        />
      );
  }
}

/** A number as one has it: lengths may say their unit ("1.5 in", "3 ft"). */
function numberIn(text: string, key: string): number {
  const plain = Number(text.trim().replace(",", "."));
  if (!Number.isNaN(plain) || !/_mm?$/.test(key)) return plain;
  const length = lengthMm(text);
  if (length === null) return NaN;
  return key.endsWith("_mm") ? length : length / 1000;
}

const most = (schema: Schema) => (schema.maxLength === undefined ? {} : { maxLength: schema.maxLength });

/** A least and a greatest; where one number says it all, the second follows the first until it is given. */
function TwoNumbers({
  id,
  value,
  follows,
  onChange,
}: {
  id: string;
  value: Value;
  follows: boolean;
  onChange: (value: Value) => void;
}) {
  const [one, two] = Array.isArray(value) ? (value as (number | null)[]) : [null, null];
  const set = (first: number | null | undefined, second: number | null | undefined) =>
    onChange(first == null && second == null ? null : [first ?? null, second ?? null]);
  const number = (text: string | undefined) => Number((text ?? "").trim().replace(",", "."));
  return (
    <span className="two-numbers">
      <InputNumber
        id={id}
        value={one ?? null}
        min={0}
        parser={number}
        onChange={(next) => set(next, follows && (two === one || two == null) ? next : two)}
      />
      <InputNumber value={two ?? null} min={0} parser={number} aria-label="to" onChange={(next) => set(one, next)} />
    </span>
  );
}

/** Several values: words, names of the collection, numbers, or whole entries. */
function Many({
  root,
  schema,
  path,
  value,
  choices,
  onChange,
  named,
  optional,
  id,
}: Omit<Props, "placeholder"> & { named: Option[] | null; optional: boolean; id: string }) {
  const items = schema.items ? resolve(root, schema.items).schema : {};
  const list = Array.isArray(value) ? (value as Value[]) : [];
  // Where nothing said and said to be none are two things, an empty list is kept as one.
  const tell = (next: Value[]) => onChange(next.length || optional ? next : null);
  if (items.properties) {
    const one = worded(path.at(-1) ?? "").label.toLowerCase();
    return (
      <div className="many">
        {list.map((entry, index) => (
          <div key={index} className="many-entry">
            <Nested
              root={root}
              schema={items}
              path={[...path, String(index)]}
              value={entry}
              choices={choices}
              optional={false}
              onChange={(next) => onChange(list.map((old, at) => (at === index ? next : old)))}
            />
            <Button size="small" type="text" onClick={() => tell(list.filter((_, at) => at !== index))}>
              {`Remove ${index + 1}`}
            </Button>
          </div>
        ))}
        <Button size="small" id={id} onClick={() => onChange([...list, blank(root, items)])}>
          {`Add to ${one}`}
        </Button>
      </div>
    );
  }
  const numeric = items.type === "number";
  const options =
    named ?? items.enum?.map((word) => ({ value: String(word), label: String(word).replaceAll("_", " ") })) ?? [];
  const said = Array.isArray(value);
  const choice = (
    <Select<string[]>
      id={id}
      mode={options.length ? "multiple" : "tags"}
      value={list.map(String)}
      options={options}
      showSearch={{ optionFilterProp: "label" }}
      placeholder={optional ? (said ? "none" : "not known") : options.length ? "none" : "type, Enter"}
      {...(options.length ? {} : { open: false })}
      onChange={(next) => {
        const numbers = next.map((word) => Number(word.replace(",", "."))).filter(Number.isFinite);
        tell(numeric ? numbers : next);
      }}
    />
  );
  if (!optional || list.length > 0) return choice;
  return (
    <span className="none-or-unknown">
      {choice}
      <Button size="small" onClick={() => onChange(said ? null : [])}>
        {said ? "Not known" : "It has none"}
      </Button>
    </span>
  );
}

/** What has to be there for a new entry. */
function blank(root: Schema, schema: Schema): Fields {
  return Object.fromEntries(
    (schema.required ?? []).map((key) => {
      const inner = schema.properties?.[key] ? resolve(root, schema.properties[key]).schema : {};
      const first = inner.enum?.[0] ?? (inner.type === "string" ? "" : null);
      return [key, first];
    }),
  );
}

function Nested({
  root,
  schema,
  path,
  value,
  choices,
  onChange,
  optional,
}: Omit<Props, "placeholder"> & { optional: boolean }) {
  if (value === null || value === undefined) {
    return (
      <Button size="small" onClick={() => onChange(blank(root, schema))}>
        {`Say which ${worded(path.at(-1) ?? "").label.toLowerCase()}`}
      </Button>
    );
  }
  const fields = value as Fields;
  return (
    <div className="nested">
      {Object.entries(schema.properties ?? {}).map(([key, inner]) => {
        const { unit } = worded(key);
        return (
          <label key={key} className="nested-field" htmlFor={`field-${[...path, key].join("-")}`}>
            <span>{`${titleOf(key)}${unit ? `, ${unit}` : ""}`}</span>
            <FieldInput
              root={root}
              schema={inner}
              path={[...path, key]}
              value={fields[key]}
              choices={choices}
              onChange={(next) => {
                onChange(without({ ...fields, [key]: next }));
              }}
            />
          </label>
        );
      })}
      {optional && (
        <Button size="small" type="text" onClick={() => onChange(null)}>
          None
        </Button>
      )}
    </div>
  );
}

/** A value for each of a few names. */
function ByName({
  schema,
  id,
  value,
  onChange,
}: {
  schema: Schema;
  id: string;
  value: Value;
  onChange: (value: Value) => void;
}) {
  const found = (value ?? {}) as Record<string, string>;
  const inner = schema as Schema & { additionalProperties?: Schema };
  const words = (inner.additionalProperties?.enum ?? []).map(String);
  return (
    <div className="nested" id={id}>
      {(schema.propertyNames?.enum ?? []).map(String).map((name) => (
        <label key={name} className="nested-field" htmlFor={`${id}-${name}`}>
          <span>{name.replaceAll("_", " ")}</span>
          <Select<string>
            id={`${id}-${name}`}
            value={found[name] ?? null}
            allowClear
            placeholder="not said"
            options={words.map((word) => ({ value: word, label: word }))}
            onChange={(next) => {
              onChange(
                Object.fromEntries(Object.entries({ ...found, [name]: next }).filter(([, word]) => Boolean(word))),
              );
            }}
          />
        </label>
      ))}
    </div>
  );
}

function without(fields: Fields): Fields {
  return Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== null && value !== undefined));
}
