import { mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, gzipSync } from "node:zlib";
import { defineConfig } from "vitest/config";
import react from "@vitejs/plugin-react";
import subset from "subset-font";

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

/** The letters and signs that every page has; others come with the whole fonts. */
const usual = String.fromCharCode(...Array.from({ length: 95 }, (_, i) => 32 + i)) + "°·×²³µ–—’“”…−÷½≈";

/** slim leaves fonts of the usual letters in web/fonts, for the first page. */
const slim = {
  name: "slim",
  async buildStart() {
    const to = join(import.meta.dirname, "fonts");
    mkdirSync(to, { recursive: true });
    for (const [family, weight] of [
      ["zilla-slab", 600],
      ["source-sans-3", 400],
      ["source-sans-3", 600],
    ]) {
      const file = `@fontsource/${family}/files/${family}-latin-${weight}-normal.woff2`;
      const whole = readFileSync(join(import.meta.dirname, "node_modules", file));
      writeFileSync(join(to, `${family}-${weight}.woff2`), await subset(whole, usual, { targetFormat: "woff2" }));
    }
  },
  /** Every page needs them: asked for early, they are there before the first text. */
  transformIndexHtml: {
    order: "post" as const,
    handler: (_: string, { bundle = {} }: { bundle?: object }) =>
      Object.keys(bundle)
        .filter((name) => /(zilla-slab-600|source-sans-3-[46]00)-[^/]*\.woff2$/.test(name))
        .map((name) => ({
          tag: "link",
          attrs: { rel: "preload", as: "font", type: "font/woff2", crossorigin: "", href: `/${name}` },
          injectTo: "head" as const,
        })),
  },
};

export default defineConfig({
  plugins: [react(), slim, squeezed],
  build: { outDir: "dist", emptyOutDir: true, chunkSizeWarningLimit: 700, assetsInlineLimit: 0 },
  css: {
    preprocessorOptions: {
      scss: { quietDeps: true, silenceDeprecations: ["import", "global-builtin", "color-functions", "if-function"] },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:7350" } },
});
