import { rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { build } from "esbuild";
import { root, run } from "./lib.mjs";

/** Build the web (Astro) and the server's entry points (one file each, packages left outside). */
rmSync(join(root, "dist"), { recursive: true, force: true });
run("npx", ["astro", "build"], { env: { ASTRO_TELEMETRY_DISABLED: "1" } });
await build({
  absWorkingDir: root,
  entryPoints: {
    main: "server/main.ts",
    verify: "server/verify.ts",
    bench: "bench/main.ts",
    "import-worker": "server/import/worker.ts",
    "playback-worker": "server/policy/playback-worker.ts",
  },
  outdir: "dist",
  outExtension: { ".js": ".mjs" },
  bundle: true,
  platform: "node",
  target: "node20",
  format: "esm",
  packages: "external",
  sourcemap: true,
});
writeFileSync(join(root, "dist", "built"), "");
