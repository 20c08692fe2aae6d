import { describe, expect, it } from "vitest";

import { EMPTY, entryOf, isoLocal, numberIn, settingsOf, shiftIn } from "./settings";

const RIG = { lens: "kel-55", body: "o7", via: ["kel-ost-plain"] };

describe("an entry", () => {
  it("keeps a shift as it is typed: across, then up; one number is up", () => {
    expect(shiftIn("6")).toEqual([0, 6]);
    expect(shiftIn("2, 6")).toEqual([2, 6]);
    expect(shiftIn("1,5 / -6")).toEqual([1.5, -6]);
    expect(shiftIn("")).toBeNull();
  });

  it("reads numbers with a point or a comma", () => {
    expect(numberIn("0,3")).toBe(0.3);
    expect(numberIn(" 2.4 ")).toBe(2.4);
    expect(numberIn("far")).toBeNull();
  });

  it("states its moment with the zone of the device", () => {
    const at = new Date(2026, 10, 21, 14, 2, 10, 45);
    expect(isoLocal(at)).toMatch(/^2026-11-21T14:02:10\.045[+-]\d\d:\d\d$/);
    expect(new Date(isoLocal(at)).getTime()).toBe(at.getTime());
  });

  it("has a frame number on a roll alone, and one frame in a series", () => {
    const taken = { rig: RIG, aperture: 4, at: new Date(), off: null } as const;
    const settings = { ...EMPTY, frame: 12, frames: 3 };
    expect(entryOf({ ...taken, settings, way: "tap" })).toMatchObject({ frames: 3, frame_number: null });
    expect(entryOf({ ...taken, settings: { ...settings, roll: "w" }, way: "before" })).toMatchObject({
      frames: 1,
      frame_number: 12,
    });
  });

  it("goes on as the last one of its rig was set, but for what belongs to one frame", () => {
    const settings = { ...EMPTY, support: "tripod", distance: "0.3", note: "moved", told: "55" } as const;
    const last = entryOf({ rig: RIG, settings, way: "tap", aperture: 4, at: new Date(), off: 7 });
    expect(last.clock_off_s).toBe(7);
    expect(settingsOf(last)).toMatchObject({ support: "tripod", distance: "", note: "", told: "" });
  });
});
