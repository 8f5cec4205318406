import { spawn } from "node:child_process";
import { join } from "node:path";
import { build, install, root, SERVER_FLAGS } from "./lib.mjs";

/** `npm start`: a real desk. */
const installed = install();
build();
await installed;
const child = spawn(
  process.execPath,
  [...SERVER_FLAGS, join(root, "dist/main.mjs"), ...process.argv.slice(2)],
  { stdio: "inherit" },
);
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => child.kill(signal));
child.on("exit", (code) => process.exit(code ?? 1));
