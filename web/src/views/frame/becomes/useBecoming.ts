import { useCallback } from "react";

import type { BecomingRow } from "../../../api/client";
import { useAddress } from "../../../app/useAddress";
import { useChange } from "../../../app/useChange";
import { standingIn } from "./standpoint";

/** What every table is asked with, as the address has it. */
export function useBecoming() {
  const [address] = useAddress();
  const [words, change] = useChange();
  const ref = words.get("ref");
  const scene = standingIn(words);
  const choose = useCallback((row: string) => change({ row }, true), [change]);
  const asked = {
    ...address.practice,
    ...(ref === null ? {} : { ref }),
    whose: words.get("whose") === "all" ? ("all" as const) : ("mine" as const),
    with_glass: words.get("glassless") !== "1",
  };
  return { address, words, change, choose, asked, scene, row: words.get("row") };
}

/** The row that is looked at: the one that is named, else the best guess. */
export function chosenOf<T extends { row: BecomingRow }>(
  rows: readonly T[],
  named: string | null,
  guess: (row: BecomingRow) => boolean,
): T | undefined {
  return (
    rows.find(({ row }) => row.key === named) ??
    rows.find(({ row }) => guess(row) && row.works && row.covered !== false) ??
    rows.find(({ row }) => row.works && row.covered !== false) ??
    rows[0]
  );
}
