import { execFileSync, spawn } from "node:child_process";
import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { packages, root } from "./lib.mjs";

/**
 * `npm run check`: types (TypeScript's native compiler for modules, Astro's own check for pages), style, the floors of
 * the house, and how much of the code is tests. All of it is tried, and all that is wrong is said.
 */

/** So much of the code is tests, at least (%). */
const LEAST = 25;

const bin = (name) => join(root, "node_modules", ".bin", name);
/** Named by its place: two packages bring a command of the name `tsc`, and either may be the one that is found. */
const NATIVE = join(root, "node_modules", "typescript-native", "bin", "tsc");
const CHECKS = [
  ["types", NATIVE, "--noEmit", "--incremental", "--tsBuildInfoFile", "node_modules/.cache/types.json"],
  ["pages", bin("astro"), "check", "--minimumSeverity", "warning", "--tsconfig", "tsconfig.pages.json"],
  ["style", bin("biome"), "check", "."],
  ["house", "npm", "run", "-s", "house"],
];

function tried([name, command, ...args]) {
  const begun = performance.now();
  const child = spawn(command, args, { cwd: root, env: { ...process.env, ASTRO_TELEMETRY_DISABLED: "1" } });
  let said = "";
  for (const stream of [child.stdout, child.stderr]) stream.on("data", (chunk) => (said += chunk));
  return new Promise((resolve) =>
    child.once("close", (code) =>
      resolve({ name, said, isGood: code === 0, seconds: (performance.now() - begun) / 1000 }),
    ),
  );
}

/** Lines of code that are tests, and all of them. */
function share() {
  const listed = execFileSync("git", ["ls-files", "--cached", "--others", "--exclude-standard"], {
    cwd: root,
  });
  // A file that was removed stands in the list until that is recorded.
  const files = listed
    .toString()
    .split("\n")
    .filter((f) => existsSync(join(root, f)));
  const code = files.filter((f) => /\.(ts|tsx|astro|mjs|cjs)$/.test(f));
  const lines = (list) =>
    list.reduce((sum, f) => sum + readFileSync(join(root, f), "utf8").split("\n").length, 0);
  const tests = code.filter((f) => f.startsWith("tests/") || /\.test\.tsx?$/.test(f));
  return { tests: lines(tests), all: lines(code) };
}

packages();
const results = await Promise.all(CHECKS.map(tried));
for (const { name, said, isGood, seconds } of results) {
  if (!isGood) console.log(said);
  console.log(`${isGood ? "good " : "wrong"}  ${name}  ${seconds.toFixed(1)} s`);
}
const { tests, all } = share();
const percent = (100 * tests) / all;
const isEnough = percent >= LEAST;
console.log(
  `${isEnough ? "good " : "wrong"}  tests  ${tests} of ${all} lines, ${percent.toFixed(1)} % (at least ${LEAST} %)`,
);
if (!isEnough || results.some((r) => !r.isGood)) process.exit(1);
