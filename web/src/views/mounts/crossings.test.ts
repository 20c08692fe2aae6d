import { expect, test } from "vitest";

import type { SystemsReport } from "../../api/client";
import { Crossings } from "./crossings";

test("a crossing is found from the lens's side and from the body's", () => {
  const one = { lens_mount: "kelvane", body_mount: "ostrel" };
  const crossings = new Crossings({ crossings: [one] } as unknown as SystemsReport);
  expect(crossings.of("lens", "kelvane", "ostrel")).toBe(one);
  expect(crossings.of("body", "ostrel", "kelvane")).toBe(one);
  expect(crossings.of("lens", "ostrel", "kelvane")).toBeUndefined();
});
