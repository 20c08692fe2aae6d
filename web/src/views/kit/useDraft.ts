import { useCallback, useState } from "react";

import type { Fields } from "../../parts/fields";

export interface Draft {
  /** What is being written. */
  item: Fields;
  /** The item as it was read, and at which version; null for a new one. */
  base: Fields | null;
  version: number;
}

const KEY = "tropeion-drafts";

function read(): Record<string, Draft> {
  try {
    return JSON.parse(sessionStorage.getItem(KEY) ?? "{}") as Record<string, Draft>;
  } catch {
    return {};
  }
}

/** A change that is not saved yet; it survives leaving the item, and a reload of the window. */
export function useDraft(name: string): [Draft | null, (draft: Draft | null) => void] {
  const [all, setAll] = useState(read);
  const keep = useCallback(
    (draft: Draft | null) => {
      const others = Object.entries(read()).filter(([key]) => key !== name);
      const next = Object.fromEntries(draft ? [...others, [name, draft] as const] : others) as Record<string, Draft>;
      setAll(next);
      try {
        sessionStorage.setItem(KEY, JSON.stringify(next));
      } catch {
        // Without storage the draft lives as long as the page.
      }
    },
    [name],
  );
  return [all[name] ?? null, keep];
}

/** The names of items with unsaved changes. */
export const draftNames = () => new Set(Object.keys(read()));
