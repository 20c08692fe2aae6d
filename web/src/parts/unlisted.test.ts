import { expect, test } from "vitest";

import { addRingLink, isUnlisted, ringFields, unlistedIn } from "./unlisted";

test("the id of a ring that nobody lists tells its fields", () => {
  expect(ringFields("ring..corvin..zephyr..28.3")).toEqual({
    lens_mount: "corvin",
    body_mount: "zephyr",
    length_mm: 28.3,
  });
  expect(ringFields("ring..a..b..9..lever..opens..4.25..speaks..one..two")).toEqual({
    lens_mount: "a",
    body_mount: "b",
    length_mm: 9,
    aperture_control: "lever_ring",
    helicoid_mm: 4.25,
    link: "translate",
    from_protocol: "one",
    to_protocol: "two",
  });
});

test("only such ids are of rings that nobody lists", () => {
  expect(isUnlisted("ring-28")).toBe(false);
  expect(unlistedIn(["glass", "ring..a..b..9"])).toBe("ring..a..b..9");
  expect(unlistedIn(["glass"])).toBeNull();
});

test("a ring that was found is entered with all of it filled in", () => {
  const link = new URL(addRingLink("ring..a..b..9..pin", "A ring", "/?lens=l"), "http://here");
  expect(link.pathname).toBe("/kit/adapters");
  expect(Object.fromEntries(link.searchParams)).toEqual({
    item: "new",
    with_name: "A ring",
    back: "/?lens=l",
    with_lens_mount: "a",
    with_body_mount: "b",
    with_length_mm: "9",
    with_aperture_control: "pin_press",
  });
});
