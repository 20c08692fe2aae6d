/** The JSON Schema of the gear file, as far as a form needs it. */
export interface Schema {
  type?: string;
  enum?: (string | number)[];
  anyOf?: Schema[];
  $ref?: string;
  items?: Schema;
  prefixItems?: Schema[];
  properties?: Record<string, Schema>;
  propertyNames?: Schema;
  required?: string[];
  default?: unknown;
  minimum?: number;
  maximum?: number;
  exclusiveMinimum?: number;
  maxLength?: number;
  pattern?: string;
  $defs?: Record<string, Schema>;
}

export type Value = unknown;
export type Fields = Record<string, Value>;

/** What a place may hold, with references followed; `optional` where it may be left out. */
export function resolve(root: Schema, schema: Schema): { schema: Schema; optional: boolean } {
  let [found, optional] = [schema, false];
  for (;;) {
    if (found.anyOf) {
      optional ||= found.anyOf.some((one) => one.type === "null");
      const next = found.anyOf.find((one) => one.type !== "null");
      if (!next) return { schema: found, optional };
      found = next;
    } else if (found.$ref) {
      const next = root.$defs?.[found.$ref.replace("#/$defs/", "")];
      if (!next) return { schema: found, optional };
      found = next;
    } else return { schema: found, optional };
  }
}

const UNITS: [suffix: string, unit: string][] = [
  ["_mm", "mm"],
  ["_deg", "°"],
  ["_nm", "N·m"],
  ["_stops", "stops"],
  ["_m", "m"],
  ["_g", "g"],
];

/** The words of a field's name, and its unit. */
export function worded(key: string): { label: string; unit: string } {
  const found = UNITS.find(([suffix]) => key.endsWith(suffix));
  const words = (found ? key.slice(0, -found[0].length) : key).replaceAll("_", " ").trim();
  return { label: words.charAt(0).toUpperCase() + words.slice(1), unit: found?.[1] ?? "" };
}

/** What an item holds beyond its defaults; empty values are left out. */
export function trimmed(item: Fields): Fields {
  return Object.fromEntries(
    Object.entries(item).filter(([, value]) => value !== null && value !== undefined && value !== ""),
  );
}

export const same = (one: Value, other: Value) => JSON.stringify(one ?? null) === JSON.stringify(other ?? null);
