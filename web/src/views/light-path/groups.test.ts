import { expect, test } from "vitest";

import type { MatchReport, Route } from "../../api/client";
import { groupsOf, orderOf } from "./groups";

const routes = (["fails", "infinity", "closer", "infinity"] as const).map((group) => ({ group }) as Route);

test("routes stand by what they are for, and those that do not work come last", () => {
  expect(groupsOf(routes)).toEqual([
    { group: "infinity", places: [1, 3] },
    { group: "closer", places: [2] },
    { group: "fails", places: [0] },
  ]);
  expect(orderOf({ routes } as unknown as MatchReport)).toEqual([1, 3, 2, 0]);
});
