import { createRequire } from "node:module";
import type { Plugin } from "vite";

const OF = ["react", "react/jsx-runtime"];

/**
 * React as modules: the package assigns what it exports at run time, so that every call of a hook or an element would
 * look it up there by its name.
 */
export function reactModules(): Plugin {
  const load = createRequire(import.meta.url);
  return {
    name: "react-modules",
    apply: "build",
    enforce: "pre",
    resolveId(id, importer = "") {
      const own = importer.startsWith("\0react:") || /\/node_modules\/(react|react-dom|scheduler)\//.test(importer);
      return OF.includes(id) && !own ? `\0react:${id}` : null;
    },
    load(id) {
      const name = id.startsWith("\0react:") && id.slice("\0react:".length);
      if (!name) return null;
      const names = Object.keys(load(name) as object).filter((key) => !key.startsWith("__"));
      const given = names.map((key) => `export const ${key} = all.${NAMED[key] ?? key};`);
      return [`import all from "${name}";`, "export default all;", ...given].join("\n");
    },
  };
}

// Elements with one child and with several are made alike.
const NAMED: Record<string, string> = { jsxs: "jsx" };
