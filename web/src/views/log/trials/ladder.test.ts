import { expect, test } from "vitest";

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

test("a stop whose centre was looked at is a trial, by the order of stops", () => {
  const rungs = new Map([
    [8, { ...EMPTY, centre: "sharp" as const, ghost: true }],
    [2.8, { ...EMPTY, centre: "soft" as const, corner: "dark" as const }],
    [4, { ...EMPTY, corner: "sharp" as const }],
  ]);
  let number = 0;
  const trials = trialsOf(rungs, COMMON, new Date("2026-12-01T10:00:00Z"), () => `t${++number}`);
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
  const [trial] = trialsOf(rungs, { ...COMMON, distance: "far" }, new Date(0), () => "t");
  expect(trial?.distance_m).toBeNull();
});
