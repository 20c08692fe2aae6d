import { createHash } from "node:crypto";
import { readdirSync, readFileSync, statSync } from "node:fs";

import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

import { antStyles } from "./antStyles.ts";
import { reactModules } from "./reactModules.ts";
import { filesByRoom } from "./rooms.ts";

/** What the build is made from, in a few letters. */
function madeFrom(): string {
  const told = createHash("sha256");
  const sources = readdirSync("src", { recursive: true }).map((name) => `src/${String(name)}`);
  for (const name of [...sources, ...readdirSync(".")].sort())
    if (statSync(name).isFile()) told.update(`${name}\n`).update(readFileSync(name));
  return told.digest("hex").slice(0, 8);
}

// Each build has a folder: its files need not tell in their names, and in each other's text, what is in them.
const BUILD = `assets/${madeFrom()}/[name]`;

export default defineConfig({
  plugins: [react(), antStyles(), reactModules()],
  optimizeDeps: { rolldownOptions: { plugins: [antStyles()] } },
  build: {
    outDir: "../src/tropeion/web_dist",
    emptyOutDir: true,
    // An inlined asset would be a data: address, which the content security policy refuses for fonts.
    assetsInlineLimit: 0,
    // The first screen is one file.
    chunkSizeWarningLimit: 600,
    // The licences of what is bundled, scripts and fonts: the wheel carries them.
    license: { fileName: "licences.md" },
    // Which files a page may ask for: the server tells the worker, and strangers get those of their page alone.
    manifest: "files.json",
    rolldownOptions: {
      // These packages do nothing when they are loaded, and do not say so: what nobody uses of them is left out.
      treeshake: { moduleSideEffects: [{ test: /node_modules\/@(rc-component|ant-design)\//, sideEffects: false }] },
      input: { main: "index.html", pair: "pair.html", sw: "src/worker/worker.ts" },
      output: {
        // The worker stands at the root, so that it serves all of it.
        entryFileNames: ({ name }) => (name === "sw" ? "sw.js" : `${BUILD}.js`),
        chunkFileNames: `${BUILD}.js`,
        // Fonts stay what they are from one build to the next.
        assetFileNames: ({ names: [name] }) => `${name?.endsWith(".css") ? BUILD : "assets/[name]-[hash]"}[extname]`,
        codeSplitting: { includeDependenciesRecursively: false, groups: [{ name: filesByRoom() }] },
      },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8463" } },
});
