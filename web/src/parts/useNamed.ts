import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";

import { itemQuery } from "../api/queries";

/** What a picker shows of an end: its name where that is known already, or asked for alone. */
export function useNamed(kind: "lens" | "body", id: string | null, known: string | undefined) {
  const item = useQuery({
    ...itemQuery(kind === "lens" ? "lenses" : "bodies", id ?? ""),
    enabled: id !== null && known === undefined,
  });
  const told = item.data?.item.name;
  const name = known ?? (typeof told === "string" ? told : id);
  const named = useMemo(() => (id === null ? null : { id, name: name ?? id }), [id, name]);
  return { named, error: id === null || known !== undefined ? null : item.error };
}
