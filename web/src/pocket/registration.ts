import { CARRIES } from "./away";

/** Whether the page opens without the machine: `refused`: the browser does not trust the certificate. */
export type Offline = "unknown" | "ready" | "refused" | "not_here";

export interface Registered {
  offline: Offline;
  /** Another build, or another collection, is there and waits to be let. */
  waiting: "build" | "collection" | null;
}

let state: Registered = { offline: CARRIES ? "unknown" : "not_here", waiting: null };
let worker: ServiceWorker | null = null;
const listeners = new Set<() => void>();

function become(next: Partial<Registered>) {
  state = { ...state, ...next };
  for (const listener of listeners) listener();
}

export const registered = () => state;
export const onRegistered = (listener: () => void) => {
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
  };
};

interface Which {
  build: string;
  collection: string;
}

const which = (asked: ServiceWorker) =>
  new Promise<Which>((resolve) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = ({ data }) => resolve(data as Which);
    asked.postMessage("which", [port2]);
  });

async function waits(next: ServiceWorker, current: ServiceWorker | null) {
  worker = next;
  if (!current) return;
  const [new_, old] = await Promise.all([which(next), which(current)]);
  become({ waiting: new_.collection === old.collection ? "build" : "collection" });
}

/** Keep the shell of the application here. Called once. */
export async function register() {
  if (!CARRIES) return;
  try {
    const found = await navigator.serviceWorker.register("/sw.js", { updateViaCache: "none" });
    const look = () => {
      if (found.active) become({ offline: "ready" });
      if (found.waiting) void waits(found.waiting, found.active);
    };
    const follow = () => found.installing?.addEventListener("statechange", look);
    found.addEventListener("updatefound", follow);
    follow();
    look();
    navigator.serviceWorker.addEventListener("controllerchange", () => {
      // Only where somebody agreed, not when the first one takes its place.
      if (worker) window.location.reload();
    });
  } catch {
    become({ offline: "refused" });
  }
}

/** Let the one that waits take its place; the page is loaded anew. */
export const letIn = () => worker?.postMessage("take over");
