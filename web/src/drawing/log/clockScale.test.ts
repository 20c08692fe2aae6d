import { describe, expect, it } from "vitest";

import { at, MINUTE_US, scaleOver, secondsOf, spanSaid, ticksOf } from "./clockScale";

describe("the time line", () => {
  const scale = scaleOver([0, 100 * MINUTE_US], 100, 1140);

  it("has no scale over nothing", () => {
    expect(scaleOver([], 0, 100)).toBeNull();
  });

  it("puts moments in their order, inside its width", () => {
    if (!scale) throw new Error("no scale");
    expect(at(scale, 0)).toBeGreaterThan(100);
    expect(at(scale, 100 * MINUTE_US)).toBeLessThan(1140);
    // A hundred pixels moved are as much time as a hundred pixels show.
    expect(secondsOf(scale, 100) * 1e6).toBeCloseTo((100 / scale.width) * scale.span);
  });

  it("ticks on full steps, apart enough to be read", () => {
    if (!scale) throw new Error("no scale");
    const ticks = ticksOf(scale, 60).map((tick) => tick / MINUTE_US);
    expect(ticks).toEqual([0, 10, 20, 30, 40, 50, 60, 70, 80, 90, 100]);
  });

  it("says how a clock runs", () => {
    expect(spanSaid(419.2)).toBe("6 min 59 s");
    expect(spanSaid(-31_536_000)).toBe("365 d");
    expect(spanSaid(0.2)).toBe("0 s");
  });
});
