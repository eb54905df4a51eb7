import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";
import { VitePWA } from "vite-plugin-pwa";

/** What is answered from the device while there is no network: who is signed in, and what a sheet needs. */
const KEPT = /\/api\/(session|catalogue|sheets\/\d+|installations\/\d+(\/jobs)?)$/;
/** A line that takes longer is treated as none: what is kept is shown. */
const LONGEST_S = 8;
/** Of the languages, the one that is in use is kept. */
const LANGUAGES = /\/locales\/[^/]+\.json$/;
const PHOTOS = /\/api\/sheets\/\d+\/photos\/\d+$/;
/** The parser of the message format, which Lingui imports for its development mode: without a use, it is left out. */
const PARSERS = /node_modules\/(@lingui\/message-utils|@messageformat\/parser|moo)\//;

type Known = { getModuleInfo: (id: string) => { isEntry: boolean; importers: readonly string[] } | null };

/** Whether the first script needs it: that is loaded before the language, and texts of modules are made as they load. */
function first(id: string, known: Known, seen = new Set<string>()): boolean {
  const info = known.getModuleInfo(id);
  if (!info || seen.has(id)) return false;
  seen.add(id);
  return info.isEntry || info.importers.some((importer) => first(importer, known, seen));
}

/** The page and what it imports load beside the first script, not after it has been read. */
const preloaded: Plugin = {
  name: "preloaded",
  transformIndexHtml: {
    order: "post",
    handler(html, { bundle = {} }) {
      const chunks = Object.values(bundle).filter((item) => item.type === "chunk");
      const page = chunks.find((chunk) => chunk.facadeModuleId?.endsWith("/src/main.tsx"));
      const parts = new Set<string>();
      const add = (name: string) => {
        if (parts.has(name) || html.includes(name)) return;
        parts.add(name);
        for (const part of chunks.find((chunk) => chunk.fileName === name)?.imports ?? []) add(part);
      };
      if (page) add(page.fileName);
      return [...parts].map((part) => ({
        tag: "link",
        attrs: { rel: "modulepreload", crossorigin: true, href: `/${part}` },
        injectTo: "head",
      }));
    },
  },
};

export default defineConfig({
  plugins: [
    react(),
    preloaded,
    VitePWA({
      registerType: "prompt",
      injectRegister: null,
      manifest: {
        name: "Wheelometron",
        short_name: "Wheelometron",
        description: "From a wheel to the true number on the display.",
        start_url: "/",
        display: "standalone",
        background_color: "#1d1f23",
        theme_color: "#1d1f23",
        icons: [{ src: "/icon.svg", sizes: "any", type: "image/svg+xml", purpose: "any" }],
      },
      workbox: {
        // a first visit is served from the device at once; a newer version waits to be taken
        clientsClaim: true,
        skipWaiting: false,
        globPatterns: ["**/*.{js,css,html,woff2,svg}"],
        navigateFallback: "/index.html",
        navigateFallbackDenylist: [/^\/api\//, /^\/trust\//],
        runtimeCaching: [
          {
            urlPattern: KEPT,
            handler: "NetworkFirst",
            options: {
              cacheName: "api",
              networkTimeoutSeconds: LONGEST_S,
              expiration: { maxEntries: 300 },
              cacheableResponse: { statuses: [200] },
            },
          },
          {
            urlPattern: LANGUAGES,
            handler: "StaleWhileRevalidate",
            options: { cacheName: "languages", cacheableResponse: { statuses: [200] } },
          },
          {
            urlPattern: PHOTOS,
            handler: "CacheFirst",
            options: { cacheName: "api", expiration: { maxEntries: 300 }, cacheableResponse: { statuses: [200] } },
          },
        ],
      },
    }),
  ],
  build: {
    outDir: "dist",
    emptyOutDir: true,
    target: "es2022",
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      treeshake: { moduleSideEffects: [{ test: PARSERS, sideEffects: false }] },
      output: {
        codeSplitting: {
          groups: [
            { name: (id, known) => (first(id, known) ? "first" : null), priority: 4 },
            { name: "theme", test: /src\/ui\/(theme|tokens)\.ts$/, priority: 3 },
            { name: "parser", test: PARSERS, priority: 5 },
            // what several places share comes in two files: as fifty, a page asked fifty times
            { name: "libraries", test: /node_modules/, minShareCount: 4, priority: 1 },
            { name: "shared", test: /frontend\/src\//, minShareCount: 4 },
          ],
        },
      },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8417" } },
});
