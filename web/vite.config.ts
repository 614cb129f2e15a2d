import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, gzipSync } from "node:zlib";
import { defineConfig } from "vitest/config";
import react from "@vitejs/plugin-react";

/** squeezed leaves each text of the bundle compressed beside it, as the server serves it. */
const squeezed = {
  name: "squeezed",
  apply: "build" as const,
  closeBundle() {
    const assets = join(import.meta.dirname, "dist/assets");
    for (const name of readdirSync(assets)) {
      if (!/\.(js|css|svg)$/.test(name)) continue;
      const file = join(assets, name);
      writeFileSync(`${file}.br`, brotliCompressSync(readFileSync(file)));
      writeFileSync(`${file}.gz`, gzipSync(readFileSync(file), { level: 9 }));
    }
  },
};

export default defineConfig({
  plugins: [react(), squeezed],
  build: { outDir: "dist", emptyOutDir: true, chunkSizeWarningLimit: 700, assetsInlineLimit: 0 },
  css: {
    preprocessorOptions: {
      scss: { quietDeps: true, silenceDeprecations: ["import", "global-builtin", "color-functions", "if-function"] },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:7350" } },
});
