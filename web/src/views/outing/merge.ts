import type { OutingWritten } from "../../api/client";

type Field = keyof OutingWritten;
const FIELDS: readonly Field[] = ["name", "day", "shots", "spare", "packed"];

const same = (one: unknown, other: unknown) => JSON.stringify(one ?? null) === JSON.stringify(other ?? null);

/** What both windows changed since it was read, each in its own way. */
export function contested(base: OutingWritten, theirs: OutingWritten, changed: Partial<OutingWritten>): Field[] {
  return FIELDS.filter(
    (field) =>
      field in changed &&
      field !== "packed" &&
      !same(theirs[field], base[field]) &&
      !same(theirs[field], changed[field]),
  );
}

/** Their outing with our changes; of what is packed, what either ticked or took off. */
export function merged(base: OutingWritten, theirs: OutingWritten, changed: Partial<OutingWritten>): OutingWritten {
  const { name, day = null, shots, spare, packed } = theirs;
  const found: OutingWritten = { name, day, shots, spare, packed, ...changed };
  if (changed.packed) {
    const before = new Set(base.packed);
    const ours = new Set(changed.packed);
    const kept = packed.filter((one) => ours.has(one) || !before.has(one));
    const more = changed.packed.filter((one) => !before.has(one) && !kept.includes(one));
    found.packed = [...kept, ...more];
  }
  return found;
}

/** What is shown of a field where two windows disagree. */
export function saidOf(field: Field, outing: Partial<OutingWritten>): string {
  const value = outing[field];
  if (value == null || value.length === 0) return "nothing";
  if (typeof value === "string") return `“${value}”`;
  return value.map((one) => (typeof one === "string" ? one : one.name)).join(", ");
}
