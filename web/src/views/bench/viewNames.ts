export const VIEWS = [
  { view: "measure", name: "Measure", key: "m" },
  { view: "seen", name: "What I see", key: "s" },
  { view: "picture", name: "From a picture", key: "p" },
  { view: "frames", name: "Which frame tells", key: "r" },
  { view: "mountless", name: "Without a mount", key: "n" },
  { view: "thread", name: "Threads", key: "t" },
  { view: "throw", name: "Focus throw", key: "o" },
] as const;

export type View = (typeof VIEWS)[number]["view"];

/** The view in the address; a piece alone is measured, a pair is looked at. */
export const viewIn = (words: URLSearchParams): View => {
  const named = VIEWS.find(({ view }) => view === words.get("view"))?.view;
  return named ?? (words.has("lens") && words.has("body") && !words.has("piece") ? "seen" : "measure");
};

/** The same pair in another view. */
export function addressOf(words: URLSearchParams, view: View): string {
  const next = new URLSearchParams(words);
  next.set("view", view);
  return `/bench?${next.toString()}`;
}
