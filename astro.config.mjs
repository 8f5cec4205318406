import { join } from "node:path";
import node from "@astrojs/node";
import react from "@astrojs/react";
import { defineConfig } from "astro/config";

/** The server is built with the pages it serves: each part of it is there once, and what one throws the other catches. */
const withServer = {
  name: "with-server",
  hooks: {
    "astro:build:setup": ({ vite, target }) => {
      if (target !== "server") return;
      vite.build.rollupOptions.input = [join(import.meta.dirname, "app/main.ts")];
      vite.build.sourcemap = true;
    },
  },
};

export default defineConfig({
  srcDir: "./web",
  outDir: "./dist/web",
  output: "server",
  adapter: node({ mode: "middleware" }),
  integrations: [react(), withServer],
  // The intake must take posts from any site, signed or idempotent by its own means.
  security: { checkOrigin: false },
  experimental: {
    // Pages run the scripts and styles they were built with, each by its hash, and no others. What
    // is said about frames, and that attributes may style, is added to each answer (`web/middleware.ts`).
    csp: {
      directives: [
        "default-src 'self'",
        "img-src 'self' data: https:",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'self'",
      ],
    },
  },
  devToolbar: { enabled: false },
  telemetry: false,
  vite: {
    build: { chunkSizeWarningLimit: 900 },
    // Packages of hundreds of small files: searching for each of them was most of a start.
    ssr: {
      noExternal: [
        "kysely",
        "chrono-node",
        "zod",
        "libphonenumber-js",
        "echarts",
        "zrender",
        /better-auth/,
        /^date-/,
        "astronomia",
        "markdown-it",
        "jose",
      ],
    },
  },
});
