import { keepAs, kept, keptValue, wipe } from "./store";

/** Only over TLS something is carried: the machine's own address is one place for demo and collection. */
export const CARRIES = window.location.protocol === "https:";

/** What a start, the log and ticks need where nobody answers. */
const KEPT = /^\/api\/v1\/(start|lan|cards|outings|outings\/[^/]+|log\/(entries|rigs|rig|rolls))$/;

const nameOf = (url: string) => {
  const { pathname, search } = new URL(url);
  // How many entries were asked for does not matter where they cannot be asked for.
  return `answer ${pathname}${pathname === "/api/v1/log/entries" ? "" : search}`;
};

export const wasKept = ({ method, url }: Request) => CARRIES && method === "GET" && KEPT.test(new URL(url).pathname);

export async function keepAnswer(url: string, response: Response) {
  try {
    await keepAs(nameOf(url), await response.json());
  } catch {
    // Nothing can be kept here, or not any more: the answer is as good.
  }
}

/** The answer that was kept last; what can be noted of a rig is carried besides. */
export async function keptAnswer(url: string): Promise<Response | null> {
  try {
    const found = await keptValue(nameOf(url));
    if (found !== undefined) return Response.json(found);
    const { pathname, searchParams } = new URL(url);
    if (pathname !== "/api/v1/log/rig") return null;
    const [lens, body, via] = [searchParams.get("lens"), searchParams.get("body"), searchParams.get("via") ?? ""];
    const pocket = await kept("pocket");
    const hand = pocket?.hands.find((one) => one.lens === lens && one.body === body && one.via.join(",") === via);
    return hand ? Response.json(hand) : null;
  } catch {
    return null;
  }
}

/** Whether the machine answers, as far as was tried last. */
export interface Answering {
  away: boolean;
  /** When it answered last. */
  at: Date | null;
}

let state: Answering = { away: false, at: null };
const listeners = new Set<() => void>();

function become(next: Answering) {
  const changed = next.away !== state.away;
  state = next;
  if (changed) for (const listener of listeners) listener();
}

export const answered = () => become({ away: false, at: new Date() });
export const unanswered = () => become({ ...state, away: true });
export const answering = () => state;
export const onAnswering = (listener: () => void) => {
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
  };
};

let leaving = false;

/** The machine knows this device no more: what was kept goes, what waits stays, and the page that pairs says so. */
export function unpaired() {
  if (leaving) return;
  leaving = true;
  void wipe().finally(() => window.location.replace("/"));
}
