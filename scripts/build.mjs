import { rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { build } from "esbuild";
import { BUNDLE, root, run, WORKERS } from "./lib.mjs";

/** Build the desk (Astro: the server with its pages), what is run beside it (one file each, packages left outside), and its threads. */
rmSync(join(root, "dist"), { recursive: true, force: true });
run("npx", ["astro", "build"], { env: { ASTRO_TELEMETRY_DISABLED: "1" } });
await build({
  ...BUNDLE,
  outdir: "dist",
  entryPoints: {
    verify: "server/verify.ts",
    admin: "server/admin.ts",
    restore: "server/restore.ts",
    healthy: "app/healthy.ts",
    bench: "bench/main.ts",
  },
  packages: "external",
});
await build({ ...WORKERS, outdir: "dist" });
writeFileSync(join(root, "dist", "main.mjs"), 'import "./web/server/main.mjs";\n');
writeFileSync(join(root, "dist", "built"), "");
