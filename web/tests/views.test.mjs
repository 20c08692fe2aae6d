import assert from "node:assert/strict";
import { test } from "node:test";

import { halfViewOf, halfViewOn, numbered, outlookMm } from "../../.make/views/views.js";

const near = (one, other, within = 1e-9) => assert.ok(Math.abs(one - other) <= within, `${one} ${other}`);

test("a view is half a format over its focal length, whichever way it is told", () => {
  const on = halfViewOn(36, 24, 50);
  near(on.across, 0.36);
  near(on.up, 0.24);
  const degrees = (half) => (2 * Math.atan(half) * 180) / Math.PI;
  const told = halfViewOf({
    angles_deg: { horizontal: degrees(0.36), vertical: degrees(0.24), diagonal: 0 },
  });
  near(told.across, on.across);
  near(told.up, on.up);
  assert.equal(halfViewOf({ angles_deg: null }), null);
});

test("the outlook holds every frame, wide or tall, and not much more", () => {
  for (const views of [
    [halfViewOn(36, 24, 24)],
    [halfViewOn(36, 24, 24), halfViewOn(20, 15, 300)],
    [halfViewOn(15, 60, 40)],
    [halfViewOn(57.6, 13.8, 50)],
  ]) {
    const mm = outlookMm(views);
    const [across, up] = [18 / mm, 12 / mm];
    for (const view of views) {
      assert.ok(view.across <= across && view.up <= up);
    }
    const widest = Math.max(...views.map((view) => Math.max(view.across, view.up * 1.5)));
    assert.ok(across < widest * 1.13);
  }
});

test("rows are numbered from one, as they stand", () => {
  assert.deepEqual(
    numbered([{ key: "a" }, { key: "b" }]).map(({ number }) => number),
    [1, 2],
  );
});
