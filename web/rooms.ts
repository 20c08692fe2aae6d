import { resolve } from "node:path";

/** What the bundler knows of its modules. */
interface Modules {
  getModuleInfo: (id: string) => { importedIds: readonly string[]; dynamicallyImportedIds: readonly string[] } | null;
}

type FileOf = (id: string, modules: Modules) => string | null;

// The screens that stand beside one another, by the folders of their views: who opens one soon opens the next.
export const ROOMS: Record<string, RegExp> = {
  frame: /\/views\/frame\//,
  setup: /\/views\/(setup|bench)\//,
  log: /\/views\/(log|pictures|outing)\//,
  plan: /\/views\/plan\//,
  kit: /\/views\/(kit|grid|mounts|files)\//,
  more: /\/views\/(begin|devices|fit|gallery|pocket|practice|terms)\//,
};
const PAGE = resolve("src/main.tsx");
const FIRST = [PAGE, resolve("src/views/light-path/LightPath.tsx")];
// What runs for itself: the page for strangers, and the worker.
const APART = [resolve("src/pair/pair.ts"), resolve("src/worker/worker.ts")];

/**
 * In which file each module stands: few files pack much better than many, and nobody asks for one screen alone. What
 * the first screen needs is one, what only one room needs is that room's, and the rest is shared.
 */
export function filesByRoom(): FileOf {
  let files: Map<string, string | null> | undefined;
  return (id, modules) => {
    files ??= allFiles(modules);
    return files.get(id) ?? null;
  };
}

function allFiles(modules: Modules): Map<string, string | null> {
  const files = new Map<string, string | null>();
  const imported = (id: string) => modules.getModuleInfo(id)?.importedIds ?? [];
  const later = (id: string) => modules.getModuleInfo(id)?.dynamicallyImportedIds ?? [];
  /** Some modules and what they import, also later on if `all`; less what has its place. */
  const reached = (from: readonly string[], all: boolean): Set<string> => {
    const found = new Set(from);
    for (const id of found)
      for (const next of all ? [...imported(id), ...later(id)] : imported(id)) if (!files.has(next)) found.add(next);
    return found;
  };
  for (const id of reached(APART, true)) files.set(id, null);
  const first = [...reached(FIRST, false)];
  for (const id of first) files.set(id, id === PAGE ? null : "first");
  const rest = [...reached(first.flatMap(later), true)].filter((id) => !files.has(id));
  const roomOf = (id: string) => Object.keys(ROOMS).find((room) => ROOMS[room]?.test(id));
  const own = (room: string) => rest.filter((id) => roomOf(id) === room);
  const needs = Object.keys(ROOMS).map((room) => ({ room, ids: reached(own(room), true) }));
  // What opens upon the first screen is no room's.
  const opened = first.flatMap(later).filter((id) => !files.has(id) && !roomOf(id));
  const upon = reached(opened, true);
  for (const id of rest) {
    const [one, ...others] = needs.filter(({ ids }) => ids.has(id));
    const alone = one && others.length === 0 && !upon.has(id);
    files.set(id, roomOf(id) ?? (alone ? one.room : "shared"));
  }
  return files;
}
