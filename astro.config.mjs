import node from "@astrojs/node";
import react from "@astrojs/react";
import { defineConfig } from "astro/config";

export default defineConfig({
  srcDir: "./web",
  outDir: "./dist/web",
  output: "server",
  adapter: node({ mode: "middleware" }),
  integrations: [react()],
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
  vite: { build: { chunkSizeWarningLimit: 900 } },
});
