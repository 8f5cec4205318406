import { join } from "node:path";
import { build, install, root, run } from "./lib.mjs";

/** `npm run bench [-- NAME …]`. */
const installed = install();
build();
await installed;
run(process.execPath, ["--enable-source-maps", join(root, "dist/bench.mjs"), ...process.argv.slice(2)]);
