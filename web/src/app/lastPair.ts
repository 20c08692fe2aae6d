import { withPair } from "./navigation";

const KEY = "tropeion.pair";

/** The pair that was last looked at on this device, as words of an address; null where there was none. */
export function lastPair(): Record<string, string> | null {
  const words = new URLSearchParams(window.localStorage.getItem(KEY) ?? "");
  return words.has("lens") && words.has("body") ? Object.fromEntries(words) : null;
}

/** Keep the pair of an address that was answered; an address without one changes nothing. */
export function rememberPair(search: string): void {
  const words = new URLSearchParams(search);
  if (!words.has("lens") || !words.has("body")) return;
  window.localStorage.setItem(KEY, withPair("", search, []));
}

/** A pair of which a piece is gone is looked at no more. */
export function forgetPair(): void {
  window.localStorage.removeItem(KEY);
}
