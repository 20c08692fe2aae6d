import { expect, test } from "vitest";

import type { Choice } from "../api/client";
import { differences, type Practices, practiceOf, usualOf, writePractice } from "./practice";

const choice = (key: string, ...values: string[]) =>
  ({
    key,
    usual: values[0],
    options: values.map((value) => ({ value, says: `${key} ${value}` })),
  }) as unknown as Choice;
const choices = [choice("trust", "nominal", "cautious"), choice("zooms", "use", "avoid")];
const usual = usualOf(choices);
const practices: Practices = { choices, usual, own: usual, keep: () => undefined };

test("an address carries what differs from the usual, and gives it back", () => {
  const address = new URLSearchParams("lens=kel-55&zooms=avoid");
  const practice = practiceOf(address, practices);
  expect(practice).toEqual({ trust: "nominal", zooms: "avoid" });
  writePractice(address, { ...practice, trust: "cautious", zooms: "use" }, practices);
  expect(address.toString()).toBe("lens=kel-55&trust=cautious");
});

test("what an address names and nobody offers is the usual", () => {
  expect(practiceOf(new URLSearchParams("trust=blind"), practices)).toEqual(usual);
});

test("what is chosen otherwise is told in its own words", () => {
  const other = practiceOf(new URLSearchParams("trust=cautious"), practices);
  expect(differences(other, usual, choices)).toEqual(["trust cautious"]);
  expect(differences(usual, usual, choices)).toEqual([]);
});
