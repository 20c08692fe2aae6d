import { useCallback } from "react";

import type { BecomingRow } from "../../../api/client";
import { useAddress } from "../../../app/useAddress";
import { useChange } from "../../../app/useChange";
import { standingIn } from "./standpoint";
import { viaOf } from "../../../parts/rig";

/** What every table is asked with, as the address has it. */
export function useBecoming() {
  const [address] = useAddress();
  const [words, change] = useChange();
  const ref = words.get("ref");
  const scene = standingIn(words);
  const choose = useCallback((row: string) => change({ row }, true), [change]);
  const asked = {
    practice: address.practice,
    ...(ref === null ? {} : { ref }),
    whose: words.get("whose") === "all" ? ("all" as const) : ("mine" as const),
    with_glass: words.get("glassless") !== "1",
  };
  return { address, words, change, choose, asked, scene, row: words.get("row") };
}

/** The row that is looked at: the one that is named, else one of the pair, without glass first. */
export function chosenOf<T extends { row: BecomingRow }>(
  rows: readonly T[],
  named: string | null,
  pair: { lens: string | null; body: string | null; via: string | null },
): T | undefined {
  const fine = rows.filter(({ row }) => row.works && row.covered !== false);
  const here = fine.filter(({ row }) => row.lens === pair.lens && row.body === pair.body && row.in_use);
  return (
    rows.find(({ row }) => row.key === named) ??
    here.find(({ row }) => viaOf(row.adapters) === pair.via) ??
    here.find(({ row }) => row.magnification === 1) ??
    here[0] ??
    fine[0] ??
    rows[0]
  );
}
