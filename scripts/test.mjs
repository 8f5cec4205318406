import { spawn, spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, openSync, readFileSync, rmSync, statfsSync } from "node:fs";
import { freemem, tmpdir } from "node:os";
import { join, relative } from "node:path";
import { install, root, run } from "./lib.mjs";

/**
 * `npm test`: install if needed (Chromium and nginx too), check, build, unit tests (with the contract and the crash
 * test against the built server), end-to-end tests. Ends with one line of what passed and failed.
 */
const installed = install();
// What tests drive from outside: the browser, and the proxy of the README.
const missing = [
  ...(process.env.CHROMIUM || existsSync("/usr/bin/chromium") ? [] : ["chromium"]),
  ...(existsSync("/usr/sbin/nginx") ? [] : ["nginx-light"]),
];
if (missing.length > 0) {
  console.log(`Installing ${missing.join(" and ")} for the tests …`);
  run("apt-get", ["update", "-qq"]);
  run("apt-get", ["install", "-y", "-qq", "--no-install-recommends", ...missing]);
}

/** Data of tests lies in memory where there is plenty: waiting for a disk to have written it tells nothing of what is tried. */
const MEMORY = "/dev/shm";
const ENOUGH = 4 * 2 ** 30;
const hasMemory = () => {
  if (!existsSync(MEMORY)) return false;
  const { bavail, bsize } = statfsSync(MEMORY);
  return bavail * bsize > ENOUGH && freemem() > 2 * ENOUGH;
};

const quiet = { ASTRO_TELEMETRY_DISABLED: "1", CI: process.env.CI ?? "" };
// Checked while it is built and the database compiles: none of the three waits for another.
const checkLog = join(mkdtempSync(join(tmpdir(), "kite-bell-check-")), "check.log");
const log = openSync(checkLog, "w");
const check = spawn("npm", ["run", "-s", "check"], {
  cwd: root,
  env: { ...process.env, ...quiet },
  stdio: ["ignore", log, log],
});
const checked = new Promise((resolve) => check.once("exit", resolve));
run("node", [join(root, "scripts/build.mjs")], { env: quiet });
const checkStatus = await checked;
console.log(readFileSync(checkLog, "utf8"));
if (checkStatus !== 0) {
  console.log("\n0 passed, 1 failed");
  process.exit(1);
}
await installed;

const out = join(root, "test-results");
rmSync(out, { recursive: true, force: true });
const unitFile = join(root, "node_modules", ".cache", "unit.json");
const e2eFile = join(root, "node_modules", ".cache", "e2e.json");
for (const file of [unitFile, e2eFile]) rmSync(file, { force: true });

const place = hasMemory() ? { TMPDIR: MEMORY } : {};
const unitStatus = run(
  "npx",
  ["vitest", "run", "--reporter=default", "--reporter=json", `--outputFile.json=${unitFile}`],
  { mayFail: true, env: place },
);
const e2e = spawnSync("npx", ["playwright", "test", "--reporter=list,json"], {
  cwd: root,
  stdio: "inherit",
  env: { ...process.env, ...place, PLAYWRIGHT_JSON_OUTPUT_NAME: e2eFile },
});

const read = (file) => (existsSync(file) ? JSON.parse(readFileSync(file, "utf8")) : null);
const unit = read(unitFile);
const browser = read(e2eFile);
/** What failed is named once more at the end: the top of a long record is the part that gets lost. */
for (const { name, assertionResults, message } of unit?.testResults ?? []) {
  const failures = assertionResults.filter(({ status }) => status === "failed");
  for (const { fullName, failureMessages } of failures)
    console.log(
      `failed: ${relative(root, name)} › ${fullName}\n${failureMessages.join("\n").slice(0, 2000)}`,
    );
  if (failures.length === 0 && message)
    console.log(`failed: ${relative(root, name)}\n${message.slice(0, 2000)}`);
}
const passed = (unit?.numPassedTests ?? 0) + (browser?.stats.expected ?? 0) + (browser?.stats.flaky ?? 0);
const failed = (unit ? unit.numFailedTests : 1) + (browser ? browser.stats.unexpected : 1);
const ok = unitStatus === 0 && e2e.status === 0;
console.log(`\n${passed} passed, ${Math.max(failed, ok ? 0 : 1)} failed`);
process.exit(ok ? 0 : 1);
