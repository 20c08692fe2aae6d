import { expect, test } from "vitest";

import { GROUPS, isOfPair, screenAt, withPair } from "./navigation";

test("an address belongs to the screen that it stands under", () => {
  expect(screenAt("/")).toBe("/");
  expect(screenAt("/frame")).toBe("/frame");
  expect(screenAt("/mounts/kelvane/key")).toBe("/mounts");
  expect(screenAt("/begin")).toBe("/kit");
  expect(screenAt("/files")).toBe("/files");
  expect(screenAt("/fit")).toBe("/fit");
  // Not by its first letters.
  expect(screenAt("/gridiron")).toBe("/");
});

test("another screen of the pair takes chain and preferences along, and nothing else", () => {
  const search = "?lens=kel-55&body=o7&via=&beside=x&trust=cautious";
  expect(withPair("/frame", search, ["trust", "zooms"])).toBe(
    "/frame?lens=kel-55&body=o7&via=&trust=cautious",
  );
});

test("no address stands twice, and those of the pair are told", () => {
  const all = GROUPS.flatMap(({ screens }) => screens.flatMap((one) => [one, ...(one.under ?? [])]));
  expect(new Set(all.map(({ path }) => path)).size).toBe(all.length);
  expect(isOfPair("/frame")).toBe(true);
  expect(isOfPair("/kit")).toBe(false);
});
