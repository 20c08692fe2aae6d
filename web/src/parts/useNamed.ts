import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";

import { itemQuery } from "../api/queries";

const SHELVES = { lens: "lenses", body: "bodies", ring: "adapters" } as const;

/** What a picker shows of an end: its name where that is known already, or asked for alone. */
export function useNamed(kind: keyof typeof SHELVES, id: string | null, known: string | undefined) {
  const item = useQuery({
    ...itemQuery(SHELVES[kind], id ?? ""),
    enabled: id !== null && known === undefined,
  });
  const told = item.data?.item.name;
  const name = known ?? (typeof told === "string" ? told : id);
  const named = useMemo(() => (id === null ? null : { id, name: name ?? id }), [id, name]);
  return { named, error: id === null || known !== undefined ? null : item.error };
}
