import { rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { build } from "esbuild";
import { BUNDLE, root, run, WORKERS } from "./lib.mjs";

/** Build the web (Astro) and the server's entry points (one file each, packages left outside). */
rmSync(join(root, "dist"), { recursive: true, force: true });
run("npx", ["astro", "build"], { env: { ASTRO_TELEMETRY_DISABLED: "1" } });
await build({
  ...BUNDLE,
  outdir: "dist",
  entryPoints: {
    main: "app/main.ts",
    verify: "server/verify.ts",
    admin: "server/admin.ts",
    restore: "server/restore.ts",
    healthy: "app/healthy.ts",
    bench: "bench/main.ts",
  },
  packages: "external",
});
await build({ ...WORKERS, outdir: "dist" });
writeFileSync(join(root, "dist", "built"), "");
