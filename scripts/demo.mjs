import { spawn } from "node:child_process";
import { rmSync } from "node:fs";
import { join, resolve } from "node:path";
import { build, install, option, root, SERVER_FLAGS } from "./lib.mjs";

/**
 * `npm run demo [-- --empty] [--port N] [--data DIR]`: install if needed, build if needed, start with demo
 * data. Its own data folder is made afresh each time; a folder you name is gone on with when it has a desk in it.
 */
const args = process.argv.slice(2);
const named = option(args, "data") ?? process.env.KITEBELL_DATA;
const data = named ? resolve(named) : join(root, "data", "demo");
const installed = install();
build();
await installed;
if (!named) rmSync(data, { recursive: true, force: true });
const rest = args.filter((a, i) => !a.startsWith("--data") && args[i - 1] !== "--data");
const child = spawn(
  process.execPath,
  [...SERVER_FLAGS, join(root, "dist/main.mjs"), "--demo", "--data", data, ...rest],
  { stdio: "inherit" },
);
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => child.kill(signal));
child.on("exit", (code) => process.exit(code ?? 1));
