import { useQuery } from "@tanstack/react-query";

import type { BecomingRow } from "../../../api/client";
import { rigBecomesQuery, type RigQuery } from "../../../api/queries";
import type { useBecoming } from "./useBecoming";
import { askedOf } from "../../../parts/rig";

type Becoming = Pick<ReturnType<typeof useBecoming>, "asked" | "address">;
type Guessed = Pick<RigQuery, "guess" | "quantity">;

/** One row at every marked setting; with a number that somebody came to, what that is. */
export function useRig({ asked, address }: Becoming, row: BecomingRow, mm?: number, guessed?: Guessed) {
  return useQuery({
    ...rigBecomesQuery({
      practice: address.practice,
      ...askedOf(row),
      mode: row.mode,
      ...(mm === undefined ? {} : { mm }),
      ...(asked.ref === undefined ? {} : { ref: asked.ref }),
      ...guessed,
    }),
    enabled: guessed?.guess !== null,
  });
}
