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
  devToolbar: { enabled: false },
  telemetry: false,
  vite: { build: { chunkSizeWarningLimit: 900 } },
});
