import { expect, test } from "vitest";

import type { BecomingRow, LensSetting } from "../api/client";
import { halfViewOf, halfViewOn, numbered, outlookMm } from "./views";

const told = (angles_deg: object | null) => halfViewOf({ angles_deg } as LensSetting);

test("a view is half a format over its focal length, whichever way it is told", () => {
  const on = halfViewOn(36, 24, 50);
  expect(on.across).toBeCloseTo(0.36, 12);
  expect(on.up).toBeCloseTo(0.24, 12);
  const degrees = (half: number) => (2 * Math.atan(half) * 180) / Math.PI;
  const view = told({ horizontal: degrees(0.36), vertical: degrees(0.24), diagonal: 0 });
  expect(view?.across).toBeCloseTo(on.across, 9);
  expect(view?.up).toBeCloseTo(on.up, 9);
  expect(told(null)).toBeNull();
});

test.each([
  [[halfViewOn(36, 24, 24)]],
  [[halfViewOn(36, 24, 24), halfViewOn(20, 15, 300)]],
  [[halfViewOn(15, 60, 40)]],
  [[halfViewOn(57.6, 13.8, 50)]],
])("the outlook holds every frame, wide or tall, and not much more", (views) => {
  const focal = outlookMm(views);
  const [across, up] = [18 / focal, 12 / focal];
  for (const view of views) {
    expect(view.across).toBeLessThanOrEqual(across);
    expect(view.up).toBeLessThanOrEqual(up);
  }
  const widest = Math.max(...views.map((view) => Math.max(view.across, view.up * 1.5)));
  expect(across).toBeLessThan(widest * 1.13);
});

test("rows are numbered from one, as they stand", () => {
  const rows = [{ key: "a" }, { key: "b" }] as BecomingRow[];
  expect(numbered(rows).map(({ number }) => number)).toEqual([1, 2]);
});
