import { useState } from "react";

const KEY = "tropeion-ticks";

function read(): Record<string, string[]> {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "{}") as Record<string, string[]>;
  } catch {
    return {};
  }
}

/** What has been ticked off of one list; kept in this browser, where it can be kept. */
export function useTicks(list: string): [Set<string>, (entry: string) => void, () => void] {
  const [all, setAll] = useState(read);
  const done = new Set(all[list]);
  const keep = (entries: string[]) => {
    const others = Object.entries(read()).filter(([name]) => name !== list);
    const next = Object.fromEntries(entries.length ? [...others, [list, entries]] : others) as Record<string, string[]>;
    setAll(next);
    try {
      localStorage.setItem(KEY, JSON.stringify(next));
    } catch {
      // A browser that keeps nothing still ticks for as long as the page is open.
    }
  };
  const toggle = (entry: string) => {
    keep(done.has(entry) ? [...done].filter((one) => one !== entry) : [...done, entry]);
  };
  return [done, toggle, () => { keep([]); }];
}
