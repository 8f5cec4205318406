import { type ChildProcess, spawn } from "node:child_process";
import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

/** The built server beside the built benchmark. */
const entry = join(dirname(fileURLToPath(import.meta.url)), "main.mjs");
const folders: string[] = [];

export async function folderOf(name: string): Promise<string> {
  const path = await mkdtemp(join(tmpdir(), `kite-bell-bench-${name}-`));
  folders.push(path);
  return path;
}

export async function removeFolders(): Promise<void> {
  for (const path of folders) await rm(path, { recursive: true, force: true });
}

/** Start the built server in rehearsal on a free port. */
export async function start(
  data: string,
  args: string[],
  env: Record<string, string> = {},
): Promise<{ origin: string; child: ChildProcess; stop: () => Promise<void> }> {
  const child = spawn(
    process.execPath,
    [
      "--max-semi-space-size=16",
      "--no-parallel-scavenge",
      entry,
      "--demo",
      "--port",
      "0",
      "--data",
      data,
      ...args,
    ],
    {
      env: { ...process.env, ...env },
      stdio: ["ignore", "pipe", "inherit"],
    },
  );
  const gone = new Promise<void>((resolve) => child.once("exit", () => resolve()));
  const origin = await new Promise<string>((resolve, reject) => {
    let said = "";
    child.stdout!.on("data", (chunk: Buffer) => {
      said += chunk;
      const ready = /ready at (\S+)/.exec(said);
      if (ready) resolve(ready[1]!);
    });
    void gone.then(() => reject(new Error(`The server ended: ${said}`)));
  });
  return {
    origin,
    child,
    stop: async () => {
      child.kill("SIGTERM");
      await gone;
    },
  };
}

/** Print one result, a line each. */
export function report(title: string, rows: readonly (readonly [string, string])[]): void {
  console.log(`\n${title}`);
  for (const [name, value] of rows) console.log(`  ${name.padEnd(44)} ${value}`);
}

/** The value that `share` of the samples do not exceed. */
export function percentile(samples: readonly number[], share: number): number {
  const sorted = [...samples].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.ceil(share * sorted.length) - 1)] ?? Number.NaN;
}
