import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";

import type { Practice } from "../../api/client";
import { type GridCell, type GridEnds, gridQuery } from "../../api/planQueries";

export type Sorting = "mount" | "most" | "least" | "name";
export const SORTINGS: readonly { value: Sorting; label: string }[] = [
  { value: "mount", label: "by mount" },
  { value: "most", label: "what works most first" },
  { value: "least", label: "what works least first" },
  { value: "name", label: "by name" },
];

export interface Shown {
  words: string;
  sorting: Sorting;
  /** Only what is at hand. */
  mine: boolean;
  /** Only lenses that work on nothing that is there. */
  stranded: boolean;
}

/** Every lens on every body, narrowed and sorted. */
export function useGrid(practice: Practice, { words, sorting, mine, stranded }: Shown) {
  const query = useQuery(gridQuery(practice));
  const report = query.data?.report;
  const cells = useMemo(() => {
    const found = new Map<string, GridCell>();
    for (const cell of report?.cells ?? []) found.set(`${cell.lens} ${cell.body}`, cell);
    return found;
  }, [report]);
  const cellOf = useMemo(() => (lens: string, body: string) => cells.get(`${lens} ${body}`), [cells]);
  const lenses = useMemo(() => {
    const asked = words.toLocaleLowerCase().split(/\s+/).filter(Boolean);
    const held = (report?.lenses ?? []).filter(
      (one) =>
        (!mine || one.at_hand > 0) &&
        (!stranded || one.on_hand === 0) &&
        asked.every((word) => `${one.name} ${one.mount_name}`.toLocaleLowerCase().includes(word)),
    );
    return sorted(held, sorting);
  }, [report, words, sorting, mine, stranded]);
  const bodies = useMemo(() => (report?.bodies ?? []).filter((one) => !mine || one.at_hand > 0), [report, mine]);
  return { query, report, cellOf, lenses, bodies };
}

function sorted(lenses: readonly GridEnds[], sorting: Sorting): readonly GridEnds[] {
  // As they come they stand by mount and name.
  const works = (one: GridEnds) => one.on_hand * 10_000 + one.works_now * 100 + one.could_work;
  switch (sorting) {
    case "mount":
      return lenses;
    case "most":
      return [...lenses].sort((one, other) => works(other) - works(one));
    case "least":
      return [...lenses].sort((one, other) => works(one) - works(other));
    case "name":
      return [...lenses].sort((one, other) => one.name.localeCompare(other.name));
  }
}
