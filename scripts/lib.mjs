import { spawn, spawnSync } from "node:child_process";
import { existsSync, readdirSync, readFileSync, statSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

export const root = join(dirname(fileURLToPath(import.meta.url)), "..");

/** Run a command in the project, showing what it prints; ends this process when it fails, unless told otherwise. */
export function run(command, args, { env = {}, mayFail = false } = {}) {
  const result = spawnSync(command, args, { cwd: root, stdio: "inherit", env: { ...process.env, ...env } });
  if (result.error) throw result.error;
  if (result.status !== 0 && !mayFail) {
    console.error(`\n${command} ${args.join(" ")} failed (${result.status ?? result.signal}).`);
    process.exit(1);
  }
  return result.status ?? 1;
}

/** How Node runs the server: young objects get room, since each inquiry makes many that live for one transaction. */
export const SERVER_FLAGS = ["--enable-source-maps", "--max-semi-space-size=16", "--no-parallel-scavenge"];

/** How the server's files are bundled. */
export const BUNDLE = {
  absWorkingDir: root,
  outExtension: { ".js": ".mjs" },
  bundle: true,
  platform: "node",
  target: "node20",
  format: "esm",
  sourcemap: true,
};

/** Threads are started for each task: one file, read at once, spares each the search for hundreds. */
export const WORKERS = {
  ...BUNDLE,
  entryPoints: {
    "import-worker": "server/import/worker.ts",
    "playback-worker": "server/playback/playback-worker.ts",
    "figures-worker": "server/figures/figures-worker.ts",
    "lab-worker": "server/lab/lab-worker.ts",
    "backup-worker": "server/backup/backup-worker.ts",
    "payload-worker": "server/intake/payload-worker.ts",
  },
  external: ["better-sqlite3"],
  banner: {
    js: 'import { createRequire } from "node:module"; const require = createRequire(import.meta.url);',
  },
};

const DATABASE = join(root, "node_modules/better-sqlite3/build/Release/better_sqlite3.node");

/** Install the packages when they are missing or older than the lock file. The database is not compiled by this. True when any were installed. */
export function packages() {
  const marker = join(root, "node_modules", ".package-lock.json");
  if (existsSync(marker) && statSync(marker).mtimeMs >= statSync(join(root, "package-lock.json")).mtimeMs)
    return false;
  console.log("Installing packages …");
  // Not `npm ci`: some registries leave other platforms' optional packages out of the lock, and it refuses such a file.
  run("npm", ["install", "--ignore-scripts", "--no-save", "--no-fund", "--no-audit"]);
  return true;
}

/**
 * Install the packages and compile the database where that is due. It compiles for about two minutes on one core; the
 * promise given resolves when it can be used, and whatever needs it must wait for that. What needs no database, and
 * may be run by what compiles it, calls `packages`: a second compiler would take the first one's files away.
 */
export function install() {
  const isNew = packages();
  if (!isNew && existsSync(DATABASE)) return Promise.resolve();
  console.log("Compiling the database, about two minutes; other work goes on meanwhile …");
  const compiling = spawn("npm", ["rebuild", "better-sqlite3"], { cwd: root, stdio: "inherit" });
  return new Promise((resolve) =>
    compiling.once("exit", (code) => {
      if (code === 0 && existsSync(DATABASE)) return resolve();
      console.error("\nThe database could not be compiled; a C++ compiler, make and python3 are needed.");
      process.exit(1);
    }),
  );
}

const SOURCES = [
  "app",
  "core",
  "server",
  "web",
  "standins",
  "demo",
  "public",
  "scripts",
  "bench",
  "astro.config.mjs",
  "package-lock.json",
];

function newest(path) {
  const stat = statSync(path);
  if (!stat.isDirectory()) return stat.mtimeMs;
  return Math.max(0, ...readdirSync(path).map((name) => newest(join(path, name))));
}

/** Build when there is no build or a source is newer than it. */
export function build() {
  const marker = join(root, "dist", "built");
  if (existsSync(marker) && statSync(marker).mtimeMs > Math.max(...SOURCES.map((s) => newest(join(root, s)))))
    return;
  run("node", [join(root, "scripts/build.mjs")]);
}

/** The value of `--name VALUE` or `--name=VALUE` among the arguments. */
export function option(args, name) {
  const at = args.findIndex((a) => a === `--${name}` || a.startsWith(`--${name}=`));
  if (at < 0) return undefined;
  return args[at].includes("=") ? args[at].slice(name.length + 3) : args[at + 1];
}

export function version(name) {
  return JSON.parse(readFileSync(join(root, "node_modules", name, "package.json"), "utf8")).version;
}
