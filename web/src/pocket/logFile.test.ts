import { expect, test } from "vitest";

import { inLogFile, logFileOf } from "./logFile";
import type { Deed, Entry, WaitingDeed } from "./store";

const entry = (id: string, more: Partial<Entry> = {}) => ({ id, aperture: 5.6, struck: null, ...more }) as Entry;
const waiting = (deed: Deed, struck: Entry | null = null): WaitingDeed => ({
  number: 1,
  deed,
  collection: "c",
  tried: false,
  after: null,
  struck,
  refused: null,
});
const at = "2026-12-01T10:00:00Z";
const logged = (id: string) => waiting({ kind: "entry", id: `e-${id}`, at, entry: entry(id), because: "" });
const read = (some: readonly WaitingDeed[]) => JSON.parse(logFileOf(some)) as { version: number; entries: Entry[] };

test("a log file holds each entry once, as it would stand", () => {
  const corrected = entry("one", { aperture: 8 });
  const file = read([
    logged("one"),
    logged("two"),
    waiting({ kind: "correction", id: "c", at, entry: corrected, because: "", version: 1 }),
    waiting({ kind: "strike", id: "s", at, entry: "two", reason: "the wrong rig" }),
    waiting({ kind: "strike", id: "t", at, entry: "old", reason: "" }, entry("old")),
  ]);
  expect(file.version).toBe(1);
  expect(file.entries.map(({ id, aperture, struck }) => [id, aperture, struck])).toEqual([
    ["one", 8, null],
    ["two", 5.6, "the wrong rig"],
    ["old", 5.6, "struck out on a device"],
  ]);
});

test("ticks are no part of it", () => {
  const tick = { lens: "l", body: "b", adapters: "", day: "2026-12-01", step: "s", on: true };
  const ticks = [
    waiting({ kind: "tick", id: "t", at, ...tick }),
    waiting({ kind: "pack", id: "p", at, outing: "o", piece: "x", on: true }),
  ];
  expect(inLogFile(ticks)).toBe(0);
  expect(inLogFile([...ticks, logged("one")])).toBe(1);
  expect(read(ticks).entries).toEqual([]);
});
