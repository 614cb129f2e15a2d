import { mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, gzipSync } from "node:zlib";
import { defineConfig } from "vitest/config";
import react from "@vitejs/plugin-react";
import { VitePWA } from "vite-plugin-pwa";
import subset from "subset-font";
import { keptAnswers, keptIn } from "./src/api/kept";

/** squeezed leaves each text of the bundle compressed beside it, as the server serves it. */
const squeezed = {
  name: "squeezed",
  apply: "build" as const,
  closeBundle: {
    order: "post" as const,
    sequential: true, // after the service worker was written
    handler() {
      const dist = join(import.meta.dirname, "dist");
      const assets = readdirSync(join(dist, "assets")).map((name) => `assets/${name}`);
      for (const name of [...assets, "sw.js"]) {
        if (!/\.(js|css|svg)$/.test(name)) continue;
        const file = join(dist, name);
        writeFileSync(`${file}.br`, brotliCompressSync(readFileSync(file)));
        writeFileSync(`${file}.gz`, gzipSync(readFileSync(file), { level: 9 }));
      }
    },
  },
};

/** The letters and signs that every page has; others come with the whole fonts. */
const usual = String.fromCharCode(...Array.from({ length: 95 }, (_, i) => 32 + i)) + "°·×²³µ–—’“”…−÷½≈";

/** Hints are a third of the headings' font, and no screen of today asks for them. */
const letters = { targetFormat: "woff2" as const, noLayoutClosure: true, noHinting: true };

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
      const slim = await subset(whole, usual, letters);
      writeFileSync(join(to, `${family}-${weight}.woff2`), slim);
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

/** installed makes the page one that is there without a network. */
const installed = VitePWA({
  registerType: "autoUpdate",
  injectRegister: "script-defer",
  manifest: {
    name: "Idle Timber",
    short_name: "Idle Timber",
    description: "The bench and each board's steps, also without a signal",
    start_url: "/bench",
    display: "standalone",
    background_color: "#F7F3EA",
    theme_color: "#22302B",
    icons: [{ src: "/icon.svg", sizes: "any", type: "image/svg+xml", purpose: "any" }],
  },
  workbox: {
    globPatterns: ["index.html", "icon.svg", "assets/*.{js,css}", "assets/*-[46]00-*.woff2"],
    // What the bench is ready without: whole fonts, for letters that are seldom there, and places that come when the
    // open one has come to rest.
    globIgnores: [
      "assets/*-latin*",
      "assets/{GlueUp,Layout,NewRiver,PhotoPlace,PictureMarks,Piece,PieceDrawing}-*",
      "assets/{HurtDrawing,Practice,Rack,Rescue,RunPlace,Runs,Shelf,TakeIn,TracePlace,TrialPlace,WaysOut}-*",
    ],
    navigateFallback: "/index.html",
    navigateFallbackDenylist: [/^\/api\//, /^\/care\//],
    cleanupOutdatedCaches: true,
    clientsClaim: true,
    skipWaiting: true,
    inlineWorkboxRuntime: true,
    sourcemap: false,
    runtimeCaching: [
      {
        urlPattern: ({ url, sameOrigin }) => sameOrigin && url.pathname.startsWith("/assets/"),
        handler: "CacheFirst",
        options: { cacheName: "assets", expiration: { maxEntries: 60 } },
      },
      {
        urlPattern: new RegExp(`^https?://[^/]+${keptAnswers.source.slice(1, -1)}([?].*)?$`), // by the whole address
        handler: "NetworkFirst",
        options: {
          cacheName: keptIn,
          networkTimeoutSeconds: 10,
          expiration: { maxEntries: 200, maxAgeSeconds: 60 * 24 * 3600 },
          cacheableResponse: { statuses: [200] },
          plugins: [
            {
              // A server without its database is away too.
              fetchDidSucceed: async ({ response }) => {
                if (response.status >= 502 && response.status <= 504) throw new Error("away");
                return response;
              },
              // The page is told that it is an old answer.
              cachedResponseWillBeUsed: async ({ cachedResponse }) => {
                if (!cachedResponse) return cachedResponse;
                const headers = new Headers(cachedResponse.headers);
                headers.set("x-kept", "yes");
                return new Response(cachedResponse.body, { headers });
              },
            },
          ],
        },
      },
    ],
  },
});

export default defineConfig({
  plugins: [react(), slim, installed, squeezed],
  build: { outDir: "dist", emptyOutDir: true, chunkSizeWarningLimit: 700, assetsInlineLimit: 0 },
  css: {
    preprocessorOptions: {
      scss: { quietDeps: true, silenceDeprecations: ["import", "global-builtin", "color-functions", "if-function"] },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:7350" } },
});
