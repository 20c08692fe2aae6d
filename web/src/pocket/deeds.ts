import { AwayError, client, ProblemError, unwrap } from "../api/client";
import { CARRIES } from "./away";
import { carried } from "./carrying";
import {
  addDeed,
  changeDeed,
  type Deed,
  dropDeed,
  type Entry,
  type EntryLine,
  type Refusal,
  type WaitingDeed,
  waitingDeeds,
} from "./store";

/** What waits is tried again so often. */
const AGAIN_MS = 4_000;

/** What waits, in its order; `null` until it was read. */
let waiting: readonly WaitingDeed[] | null = null;
const listeners = new Set<() => void>();
const sentListeners = new Set<(deed: Deed) => unknown>();
/** The collection that is served: what was done for another one is not sent. */
let collection: string | null = null;
let sending: Promise<void> | null = null;
let again = false;

async function reread() {
  try {
    waiting = await waitingDeeds();
  } catch {
    // A browser that keeps nothing: what is known here is all there is.
    waiting ??= [];
  }
  for (const listener of listeners) listener();
}

export const deedsWaiting = () => waiting;
export const onDeeds = (listener: () => void) => {
  listeners.add(listener);
  if (waiting === null) void reread();
  return () => {
    listeners.delete(listener);
  };
};
/** Told of each deed that was kept; it goes on waiting until they have asked for what stands now. */
export const onSent = (listener: (deed: Deed) => unknown) => {
  sentListeners.add(listener);
  return () => {
    sentListeners.delete(listener);
  };
};

export const entryOf = (deed: Deed): string | null =>
  deed.kind === "tick" || deed.kind === "pack" ? null : deed.kind === "strike" ? deed.entry : deed.entry.id;

/** A deed of now, by the machine's clock as it was measured last. */
export const newDeed = () => ({
  id: crypto.randomUUID(),
  at: new Date(Date.now() - Math.round((carried().off ?? 0) * 1000)).toISOString(),
});

/** Begin to serve a collection: what waits for it is sent. */
export function deedsFor(id: string) {
  collection = id;
  void sendDeeds();
}

interface More {
  struck?: Entry | null;
}

/** Do it here and now; it is sent as soon as somebody answers. */
export async function doDeed(deed: Deed, { struck = null }: More = {}) {
  if (CARRIES) void navigator.storage.persist();
  const before = (waiting ?? []).filter((one) => entryOf(one.deed) === entryOf(deed) && entryOf(deed) !== null);
  const last = before.at(-1);
  const own = last?.deed;
  if (last && !last.tried && deed.kind === "correction" && (own?.kind === "entry" || own?.kind === "correction")) {
    // What nobody has seen yet is corrected where it waits.
    await changeDeed({ ...last, deed: { ...own, entry: deed.entry, because: deed.because }, refused: null });
  } else {
    const after = last && deed.kind === "correction" ? last.deed.id : null;
    await addDeed({ deed, collection: collection ?? "", tried: false, after, struck, refused: null });
  }
  await reread();
  await sendDeeds();
}

/** Send what waits, in its order; what is refused waits for a decision, and lets the others pass. */
export async function sendDeeds(): Promise<void> {
  if (sending) {
    again = true;
    return sending;
  }
  sending = locked(sendAll).finally(() => {
    sending = null;
  });
  await sending;
  if (again) {
    again = false;
    await sendDeeds();
  }
}

/** One window sends at a time; where that cannot be told, the server keeps each deed once all the same. */
const locked = async (does: () => Promise<void>): Promise<void> => {
  if ("locks" in navigator) await navigator.locks.request("tropeion deeds", does);
  else await does();
};

async function sendAll() {
  await reread();
  const held = new Set<string>();
  for (const { number } of waiting ?? []) {
    // As it stands by now: what was sent before it may have changed it.
    const one = waiting?.find((other) => other.number === number);
    if (!one || one.collection !== collection) continue;
    const entry = entryOf(one.deed);
    if (entry !== null && held.has(entry)) continue;
    if (one.refused !== null) {
      if (entry !== null) held.add(entry);
      continue;
    }
    if (!(await sendOne(one))) return;
    if (waiting?.some((other) => other.number === number) && entry !== null) held.add(entry);
  }
}

/** Whether to go on: somebody answered. */
async function sendOne(one: WaitingDeed): Promise<boolean> {
  // From now on it may have arrived.
  await changeDeed({ ...one, tried: true });
  try {
    const answer = unwrap(await client.POST("/api/v1/deeds", { body: { deed: one.deed } }));
    await Promise.allSettled([...sentListeners].map((listener) => listener(one.deed)));
    await dropDeed(one.number);
    for (const other of await waitingDeeds())
      if (other.after === one.deed.id && other.deed.kind === "correction")
        await changeDeed({ ...other, after: null, deed: { ...other.deed, version: answer.version } });
  } catch (error) {
    const refused = refusalOf(error);
    if (!refused) return false;
    await changeDeed({ ...one, tried: true, refused });
  } finally {
    await reread();
  }
  return true;
}

/** Why it will not be kept as it is; `null` where it is to be tried again. */
function refusalOf(error: unknown): Refusal | null {
  if (error instanceof AwayError || !(error instanceof ProblemError)) return null;
  const { problem } = error;
  if (![403, 404, 409, 422].includes(problem.status)) return null;
  const theirs = problem.type === "stale" && problem.current ? (problem.current as unknown as EntryLine) : null;
  return { text: error.message, theirs, reason: problem.status === 422 };
}

/** Keep what was refused, with a reason, or upon what stands there by now. */
export async function insistOn(one: WaitingDeed, because: string) {
  const { deed, refused } = one;
  const changed: Deed =
    deed.kind === "correction"
      ? { ...deed, because: because || deed.because, version: refused?.theirs?.version ?? deed.version }
      : deed.kind === "entry"
        ? { ...deed, because: because || deed.because }
        : deed;
  await changeDeed({ ...one, deed: changed, refused: null });
  await reread();
  await sendDeeds();
}

export async function leaveOut(one: WaitingDeed) {
  // What was corrected upon it goes along.
  for (const other of await waitingDeeds())
    if (other.number === one.number || other.after === one.deed.id) await dropDeed(other.number);
  await reread();
}

window.setInterval(() => {
  if (waiting?.some(({ refused, collection: of }) => refused === null && of === collection)) void sendDeeds();
}, AGAIN_MS);
window.addEventListener("online", () => void sendDeeds());
