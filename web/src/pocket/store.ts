import type { DBSchema, IDBPDatabase } from "idb";

import type { components } from "../api/schema";

export type Entry = Required<components["schemas"]["FiledEntry"]>;
export type EntryLine = components["schemas"]["EntryLine"] & { entry: Entry };
export type DeedSent = components["schemas"]["DeedSent"]["deed"];
export type Pocket = components["schemas"]["Pocket"];

export type InHand = components["schemas"]["InHand"];

/** A deed with an entry as the server has every field of it. */
export type Deed =
  | { kind: "entry"; id: string; at: string; entry: Entry; because: string }
  | { kind: "correction"; id: string; at: string; entry: Entry; because: string; version: number }
  | { kind: "strike"; id: string; at: string; entry: string; reason: string }
  | { kind: "pack"; id: string; at: string; outing: string; piece: string; on: boolean }
  | {
      kind: "tick";
      id: string;
      at: string;
      lens: string;
      body: string;
      adapters: string;
      day: string;
      step: string;
      on: boolean;
    };

/** A deed that waits. `number` is its place in the order; `tried` once it may have arrived. */
export interface WaitingDeed {
  number: number;
  deed: Deed;
  /** The collection that it was done for. */
  collection: string;
  tried: boolean;
  /** Of a correction upon one that waits itself: its version comes from that. */
  after: string | null;
  /** Of a strike: the entry, for the log file. */
  struck: Entry | null;
  /** Why the server did not keep it; it waits for a decision then. */
  refused: Refusal | null;
}

export interface Refusal {
  text: string;
  /** What stands there by now, where two corrected one entry. */
  theirs: EntryLine | null;
  reason: boolean;
}

interface Schema extends DBSchema {
  deeds: { key: number; value: Omit<WaitingDeed, "number"> & { number?: number } };
  /** What was last answered, by name. */
  kept: { key: string; value: { value: unknown; at: string } };
}

let opened: Promise<IDBPDatabase<Schema>> | null = null;

const database = () =>
  (opened ??= open().catch((error: unknown) => {
    opened = null;
    throw error;
  }));

async function open() {
  const { openDB } = await import("idb");
  return await openDB<Schema>("tropeion", 1, {
    upgrade(db) {
      db.createObjectStore("deeds", { keyPath: "number", autoIncrement: true });
      db.createObjectStore("kept");
    },
    terminated() {
      opened = null;
    },
  });
}

/** What waits, in its order. */
export const waitingDeeds = async () => (await (await database()).getAll("deeds")) as WaitingDeed[];

export async function addDeed(waiting: Omit<WaitingDeed, "number">) {
  await (await database()).add("deeds", waiting);
}

/** Put a deed back as it is now; one that was sent meanwhile is not brought back. */
export async function changeDeed(waiting: WaitingDeed) {
  const transaction = (await database()).transaction("deeds", "readwrite");
  if ((await transaction.store.get(waiting.number)) !== undefined) await transaction.store.put(waiting);
  await transaction.done;
}

export async function dropDeed(number: number) {
  await (await database()).delete("deeds", number);
}

export async function discardDeeds() {
  await (await database()).clear("deeds");
}

/** What is kept besides answers. */
interface Kept {
  pocket: Pocket;
  "pocket before": Pocket | null;
  off: number;
}

/** What was kept by this name; nothing, if nothing was. */
export const keptValue = async (name: string): Promise<unknown> => (await (await database()).get("kept", name))?.value;

export const kept = async <Name extends keyof Kept>(name: Name) => (await keptValue(name)) as Kept[Name] | undefined;

export async function keepAs(name: string, value: unknown) {
  await (await database()).put("kept", { value, at: new Date().toISOString() }, name);
}

/** Everything but what waits goes: the device was revoked, or forgotten. */
export async function wipe() {
  await (await database()).clear("kept");
  try {
    for (const name of await caches.keys()) await caches.delete(name);
    for (const registration of await navigator.serviceWorker.getRegistrations()) await registration.unregister();
  } catch {
    // A browser that does not trust the certificate keeps neither.
  }
}
