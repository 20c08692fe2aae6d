import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";

import { foundQuery, type Kind, type ShelfKind, shelfQuery } from "../../api/queries";
import type { Words } from "../../app/useChange";
import { wantedOf } from "./Filters";

/** A shelf as it is narrowed by the address and by what is typed. */
export function useShelfSearch(kind: Kind, address: URLSearchParams, change: (next: Words) => void) {
  const asked = address.get("q") ?? "";
  // What is typed is sought at once, and the address follows. Once it has, another address (back, a link)
  // counts again.
  const [typed, setTyped] = useState({ text: asked, asked, kind, followed: true });
  const own = typed.kind === kind;
  const ahead = own && !typed.followed && typed.asked === asked;
  const text = ahead || (own && typed.text.trim() === asked) ? typed.text : asked;
  if (!typed.followed && typed.text.trim() === asked && own) setTyped({ ...typed, followed: true });
  const q = text.trim().slice(0, 200);
  const follow = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(
    () => () => {
      clearTimeout(follow.current);
    },
    [kind],
  );
  const type = (next: string) => {
    setTyped({ text: next, asked, kind, followed: next.trim() === asked });
    clearTimeout(follow.current);
    // Writing the address draws the page once more: that may wait until the list stands.
    follow.current = setTimeout(() => {
      change({ q: next.trim() || null });
    }, 150);
  };
  const shelfKind: ShelfKind = kind === "rigs" ? "lenses" : kind;
  const shelf = useQuery({ ...shelfQuery(shelfKind), enabled: kind !== "rigs" });
  const wanted = useMemo(() => ({ ...wantedOf(address), q }), [address, q]);
  const found = useQuery({ ...foundQuery(shelfKind, wanted), enabled: kind !== "rigs" });
  const byId = useMemo(() => new Map(shelf.data?.rows.map((row) => [row.id, row])), [shelf.data]);
  const rows = useMemo(() => (found.data?.ids ?? []).flatMap((id) => byId.get(id) ?? []), [byId, found.data]);
  return { shelfKind, shelf, found, rows, text, q, type };
}
