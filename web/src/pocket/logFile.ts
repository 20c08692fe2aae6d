import type { Entry, WaitingDeed } from "./store";

/** What waits as a log file: entries as they would stand. Ticks are no part of a log. */
export function logFileOf(waiting: readonly WaitingDeed[]): string {
  const entries = new Map<string, Entry>();
  for (const { deed, struck } of waiting) {
    if (deed.kind === "entry" || deed.kind === "correction") entries.set(deed.entry.id, deed.entry);
    if (deed.kind === "strike") {
      const entry = entries.get(deed.entry) ?? struck;
      if (entry) entries.set(deed.entry, { ...entry, struck: deed.reason || "struck out on a device" });
    }
  }
  return `${JSON.stringify({ version: 1, entries: [...entries.values()] }, null, 2)}\n`;
}

/** How many of what waits a log file holds. */
export const inLogFile = (waiting: readonly WaitingDeed[]) =>
  waiting.filter(({ deed }) => deed.kind !== "tick" && deed.kind !== "pack").length;

export const LOG_FILE_NAME = "tropeion-waiting-log.json";
