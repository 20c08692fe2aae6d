export const VIEWS = [
  { view: "picture", name: "Picture", key: "p" },
  { view: "bodies", name: "On every body", key: "e" },
  { view: "lenses", name: "Lenses on this body", key: "s" },
  { view: "wish", name: "A view I want", key: "w" },
  { view: "reach", name: "Depth and reach", key: "r" },
] as const;

export type View = (typeof VIEWS)[number]["view"];

export const viewIn = (words: URLSearchParams): View =>
  VIEWS.find(({ view }) => view === words.get("view"))?.view ?? "picture";

/** The same pair in another view: what is chosen in one table is no row of another. */
export function addressOf(words: URLSearchParams, view: View): string {
  const next = new URLSearchParams(words);
  for (const key of ["row", "out", "gap"]) next.delete(key);
  if (view === "picture") next.delete("view");
  else next.set("view", view);
  return `/frame?${next.toString()}`;
}
