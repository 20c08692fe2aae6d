export const VIEWS = [
  { view: "card", name: "The card", key: "c" },
  { view: "rehearse", name: "Rehearse it", key: "r" },
  { view: "stored", name: "Stored lenses", key: "s" },
] as const;

export type View = (typeof VIEWS)[number]["view"];

export const viewIn = (words: URLSearchParams): View =>
  VIEWS.find(({ view }) => view === words.get("view"))?.view ?? "card";

/** The same rig in another view. */
export function addressOf(pathname: string, words: URLSearchParams, view: View): string {
  const next = new URLSearchParams(words);
  if (view === "card") next.delete("view");
  else next.set("view", view);
  return `${pathname}?${next.toString()}`;
}
