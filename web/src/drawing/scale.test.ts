import { expect, test } from "vitest";

import { acrossOf, alongOf, dot, type Frame, frameFor, inside, place, SCALES, wrapped } from "./scale";
import type { Scene } from "./scene";

const lying: Frame = {
  width: 900,
  height: 400,
  scale: 4,
  sensor: 800,
  axis: 200,
  upright: false,
  clear: [56, 4],
  breakFrom: null,
  removed: 0,
};
const upright: Frame = { ...lying, width: 400, height: 900, upright: true };

test("millimetres before the sensor and off the axis are pixels from both", () => {
  expect(alongOf(lying, 25)).toBe(700);
  expect(acrossOf(lying, 10)).toBe(160);
  expect(acrossOf(upright, 10)).toBe(240);
  expect(place(lying, 700, 160)).toEqual([700, 160]);
  expect(place(upright, 700, 160)).toEqual([160, 700]);
  expect(dot(lying, 1, 2.005)).toBe("1.00 2.00");
});

test("what lies beyond a break moves in, and nothing passes it", () => {
  const broken = { ...lying, breakFrom: 60, removed: 30 };
  expect(alongOf(broken, 60)).toBe(alongOf(lying, 60));
  expect(alongOf(broken, 75)).toBe(alongOf(lying, 60));
  expect(alongOf(broken, 100)).toBe(alongOf(lying, 70));
});

test("a text is broken between words, and a word that is too long stands alone", () => {
  expect(wrapped("one two three", 7)).toEqual(["one two", "three"]);
  expect(wrapped("incomparable", 4)).toEqual(["incomparable"]);
});

test("a text ends inside the drawing", () => {
  expect(inside(lying, 880, "1234567890")).toBe(900 - 4 - 35);
  expect(inside(lying, 100, "1234567890")).toBe(100);
});

const ring = { diameter_mm: 64, flange_mm: 62, exit_pupil_mm: 30, seat_mm: 48.2, assumed: [] };
const sceneOf = (front_mm: number): Scene =>
  ({
    section: {
      lens: { ...ring, front_mm },
      body: { seat_mm: 22.4, flange_mm: 60, sensor_mm: 43.3 },
      adapters: [],
      waist_mm: 0,
    },
    pieces: {},
    lens: "lens",
    body: "body",
    adapters: [],
    route: null,
  }) as unknown as Scene;
const box = {
  width: 900,
  height: 420,
  upright: false,
  behind: 90,
  ahead: 200,
  margin: 40,
  slack: 0,
  offset: 0,
};

test("the scale is one of a few, the largest at which everything has room", () => {
  const frame = frameFor(sceneOf(96), box);
  expect(SCALES).toContain(frame.scale);
  const larger = SCALES[SCALES.indexOf(frame.scale as (typeof SCALES)[number]) - 1];
  expect(larger).toBeDefined();
  expect((32 + 2) * frame.scale).toBeLessThanOrEqual(210 - 40);
  expect(Math.max((32 + 2) * (larger ?? 0) - 170, (48.2 + 32) * (larger ?? 0) - 610)).toBeGreaterThan(0);
});

test("a barrel that is too long is broken, and its front stays in the room", () => {
  const frame = frameFor(sceneOf(400), box);
  expect(frame.removed).toBeGreaterThan(0);
  expect(frame.breakFrom).not.toBeNull();
  expect(alongOf(frame, 400)).toBeCloseTo(200, 6);
  // The break stands beyond the pupil, so that it does not bend the light.
  expect(frame.breakFrom ?? 0).toBeGreaterThan(30);
  expect(frameFor(sceneOf(96), box).removed).toBe(0);
});
