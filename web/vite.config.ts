import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  // Tests run single modules outside of this folder: what they import goes along.
  ssr: { noExternal: true },
  plugins: [react()],
  html: { cspNonce: "__CSP_NONCE__" },
  build: {
    outDir: "../src/tropeion/web_dist",
    emptyOutDir: true,
    // An inlined asset would be a data: address, which the content security policy refuses for fonts.
    assetsInlineLimit: 0,
  },
  server: { proxy: { "/api": "http://127.0.0.1:8463" } },
});
