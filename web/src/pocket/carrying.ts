import { client, unwrap } from "../api/client";
import { answering, CARRIES, onAnswering } from "./away";
import { keepAs, kept, type Pocket } from "./store";

/** While it is made somebody asks so often; later whether something changed. */
const MAKING_MS = 1_000;
const LATER_MS = 300_000;

export interface Carried {
  pocket: Pocket | null;
  /** What was carried before the last one came, until somebody has seen what changed. */
  before: Pocket | null;
  /** How far the next one has come: done, of so many. */
  making: readonly [done: number, total: number] | null;
  /** The machine serves another collection: what is carried is replaced only on wish. */
  other: boolean;
  failed: string;
  /** Device minus machine, in seconds, as it was measured last. */
  off: number | null;
}

let state: Carried = { pocket: null, before: null, making: null, other: false, failed: "", off: null };
const listeners = new Set<() => void>();
let timer = 0;
let asking = false;

function become(next: Partial<Carried>) {
  state = { ...state, ...next };
  for (const listener of listeners) listener();
}

export const carried = () => state;
export const onCarried = (listener: () => void) => {
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
  };
};

/** Read what is kept, and ask whether it is still so. Called once. */
export async function beginCarrying() {
  if (!CARRIES) return;
  try {
    const [pocket, before, off] = await Promise.all([kept("pocket"), kept("pocket before"), kept("off")]);
    become({ pocket: pocket ?? null, before: before ?? null, off: off ?? null });
  } catch {
    // Nothing is kept here: it is asked for.
  }
  onAnswering(() => {
    if (!answering().away) void ask();
  });
  await ask();
}

async function ask(replacing = false): Promise<void> {
  if (asking) return;
  asking = true;
  window.clearTimeout(timer);
  let next = LATER_MS;
  try {
    const have = state.pocket?.standing ?? "";
    const sent = Date.now();
    const answer = unwrap(await client.GET("/api/v1/pocket", { params: { query: { have } } }));
    // Half of the way is behind it.
    const off = ((sent + Date.now()) / 2 - Date.parse(answer.now)) / 1000;
    become({ off });
    await keepAs("off", off);
    const other = state.pocket !== null && state.pocket.collection !== answer.collection && !replacing;
    if (other) {
      become({ other, making: null });
    } else if (answer.state === "making") {
      become({ making: [answer.done, answer.total] });
      next = MAKING_MS;
    } else if (answer.state === "failed") {
      become({ making: null, failed: answer.why });
    } else {
      become({ making: null, failed: "" });
      if (answer.pocket) await take(answer.pocket, replacing);
    }
  } catch {
    // Asked again later, and as soon as somebody answers.
    become({ making: null });
  } finally {
    asking = false;
  }
  timer = window.setTimeout(() => void ask(replacing), next);
}

async function take(pocket: Pocket, replacing: boolean) {
  // What somebody has not looked at yet is held against what was shown first.
  const before = replacing ? null : (state.before ?? state.pocket);
  become({ pocket, before, other: false });
  try {
    await Promise.all([keepAs("pocket", pocket), keepAs("pocket before", before)]);
  } catch {
    become({ failed: "This browser has no room to keep it: it is here until the page is closed." });
  }
}

/** What changed was looked at. */
export async function seenChanges() {
  become({ before: null });
  await keepAs("pocket before", null);
}

export const replaceCarried = () => ask(true);
export const askNow = () => ask();
