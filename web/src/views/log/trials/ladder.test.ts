import { expect, test } from "vitest";

import { takenOf, takenPath } from "../../../parts/taken";
import { type Common, EMPTY, trialsOf } from "./ladder";

const COMMON: Common = {
  lens: "l",
  body: "b",
  via: ["r"],
  use: "film",
  source: "own",
  mark: 35,
  distance: "2,5",
  hood: null,
  travel: null,
  character: " swirl , glow,",
  firmware: { b: "1.2", r: " " },
  note: " dusk ",
};

const NOTHING = takenOf(new URLSearchParams());

test("a stop whose centre was looked at is a trial, by the order of stops", () => {
  const rungs = new Map([
    [8, { ...EMPTY, centre: "sharp" as const, ghost: true }],
    [2.8, { ...EMPTY, centre: "soft" as const, corner: "dark" as const }],
    [4, { ...EMPTY, corner: "sharp" as const }],
  ]);
  let number = 0;
  const trials = trialsOf(rungs, COMMON, NOTHING, new Date("2026-12-01T10:00:00Z"), () => `t${++number}`);
  expect(trials.map(({ id, aperture, centre, corner }) => [id, aperture, centre, corner])).toEqual([
    ["t1", 2.8, "soft", "dark"],
    ["t2", 8, "sharp", null],
  ]);
  expect(trials[0]).toMatchObject({
    distance_m: 2.5,
    character: ["swirl", "glow"],
    firmware: { b: "1.2" },
    note: "dusk",
  });
});

test("a distance that is none is not noted", () => {
  const rungs = new Map([[4, { ...EMPTY, centre: "sharp" as const }]]);
  const [trial] = trialsOf(rungs, { ...COMMON, distance: "far" }, NOTHING, new Date(0), () => "t");
  expect(trial?.distance_m).toBeNull();
});

test("what an entry noted comes with the trial, and its picture with its stop alone", () => {
  const path = takenPath(
    { lens: "l", body: "b", via: ["r"], aperture: 4, focal_length_mm: null, distance_m: 2.5, use: "film", travel: 0.5 },
    { number: 7, file: "A & B.JPG" },
  );
  const taken = takenOf(new URL(path, "http://here").searchParams);
  expect(taken).toEqual({ stop: 4, mark: null, distance: "2.5", use: "film", travel: 0.5, file: "A & B.JPG" });
  const rungs = new Map([4, 8].map((stop) => [stop, { ...EMPTY, centre: "sharp" as const }]));
  const files = trialsOf(rungs, COMMON, taken, new Date(0), () => "t").map(({ file }) => file);
  expect(files).toEqual(["A & B.JPG", null]);
});
