import { expect, test } from "vitest";

import { GROUPS, isOfPair, MORE, screenAt, underAt, withPair } from "./navigation";

test("an address belongs to the screen that it stands under", () => {
  const at = (pathname: string) => screenAt(pathname)?.path;
  expect(at("/")).toBe("/");
  expect(at("/frame")).toBe("/frame");
  expect(at("/mounts/kelvane/key")).toBe("/kit");
  expect(at("/begin")).toBe("/kit");
  expect(at("/files")).toBe("/kit");
  expect(at("/outing/one")).toBe("/setup");
  expect(at("/fit")).toBe("/fit");
  // Not by its first letters.
  expect(at("/gridiron")).toBe(undefined);
});

test("what stands under a screen is told apart", () => {
  const kit = screenAt("/mounts/kelvane");
  expect(kit && underAt(kit, "/mounts/kelvane")?.name).toBe("Mounts compared");
  expect(kit && underAt(kit, "/begin")).toBe(undefined);
});

test("another screen of the pair takes chain and preferences along, and nothing else", () => {
  const search = "?lens=kel-55&body=o7&via=&beside=x&trust=cautious";
  expect(withPair("/frame", search, ["trust", "zooms"])).toBe("/frame?lens=kel-55&body=o7&via=&trust=cautious");
});

test("the bar has at most seven names, no name or address stands twice, and those of the pair are told", () => {
  const bar = GROUPS.flatMap(({ screens }) => screens);
  expect(bar.length).toBeLessThanOrEqual(7);
  const all = [...bar.flatMap((one) => one.under ?? [one]), ...MORE];
  expect(new Set(all.map(({ path }) => path)).size).toBe(all.length);
  expect(new Set([...bar, ...all].map(({ name }) => name)).size).toBe(new Set([...bar, ...all]).size);
  expect(isOfPair("/frame")).toBe(true);
  expect(isOfPair("/kit")).toBe(false);
});
