import type { RigSeen } from "../api/benchQueries";

type Saw = RigSeen["saw"][number];

/** Lay something that was seen of a rig on the bench, beside what lies there. */
export function layOnBench({ lens, body, via }: { lens: string; body: string; via: string }, saw: readonly Saw[]) {
  const name = `bench seen ${lens} ${body} ${via}`;
  const empty: RigSeen = { saw: [], nameless: false, past_infinity: true, foils: null };
  try {
    const found = sessionStorage.getItem(name);
    const lies = found === null ? empty : (JSON.parse(found) as RigSeen);
    sessionStorage.setItem(name, JSON.stringify({ ...lies, saw: [...lies.saw, ...saw] }));
  } catch {
    // Where nothing is kept, it is entered there.
  }
}
