import { expect, test } from "vitest";

import { adaptersIn, askedOf, rigPath, viaOf } from "./rig";

test("a chain is read as it is written", () => {
  for (const chain of [[], ["one"], ["one", "two"]]) expect(adaptersIn(viaOf(chain))).toEqual(chain);
  expect(adaptersIn(" one, ,two,")).toEqual(["one", "two"]);
  expect(viaOf(undefined)).toBe("");
});

test("a rig with its plate changed has an address like any other", () => {
  const rig = { lens: "kel-55", body: "plate..vigil..ostrel", adapters: ["kel-ost-plain"] };
  expect(rigPath(rig)).toBe("/?lens=kel-55&body=plate..vigil..ostrel&via=kel-ost-plain");
  expect(rigPath(rig, "/setup")).toMatch(/^\/setup\?lens=/);
  expect(askedOf(rig)).toEqual({ lens: "kel-55", body: "plate..vigil..ostrel", via: "kel-ost-plain" });
});
