import { expect, test } from "vitest";

import type { Pocket } from "../../pocket/store";
import { changesSince, countChanges } from "./changes";

const fit = (body: string, grade: string) => ({ body, grade });
const pocket = (fits: object[], rigs: object[] = [], outings: object[] = []) =>
  ({ systems: [{ mount: "m", generations: [{ id: null, fits }] }], rigs, outings }) as unknown as Pocket;

test("without one before, nothing is marked", () => {
  expect(countChanges(pocket([fit("a", "native")]), null)).toBe(0);
});

test("an answer that is another, and one that is new, are told apart", () => {
  const before = pocket([fit("a", "manual"), fit("b", "full")]);
  const now = pocket([fit("a", "native"), fit("b", "full"), fit("c", "none")]);
  const [a, b, c] = now.systems[0]?.generations[0]?.fits ?? [];
  const changes = changesSince(before);
  expect(a && changes.fit("m", null, a)?.grade).toBe("manual");
  expect(b && changes.fit("m", null, b)).toBeNull();
  expect(c && changes.fit("m", null, c)).toBeUndefined();
  expect(countChanges(now, before)).toBe(2);
});

test("what is packed is no other answer, what is said of an outing is", () => {
  const outing = { id: "o", says: "3 shots", ticked: ["x"] };
  const before = pocket([], [], [outing]);
  expect(countChanges(pocket([], [], [{ ...outing, ticked: [] }]), before)).toBe(0);
  expect(countChanges(pocket([], [], [{ ...outing, says: "4 shots" }]), before)).toBe(1);
});
