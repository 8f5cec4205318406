import { existsSync } from "node:fs";
import { cp, mkdir, rename, rm, stat } from "node:fs/promises";
import { join } from "node:path";
import Database from "better-sqlite3";
import { DEMO_NOW } from "../../demo/history.ts";

const root = join(import.meta.dirname, "../..");
const kept = join(root, "node_modules/.cache/demo-history");

/**
 * Keep a demo desk that was just made, for tests that would otherwise make the same one again. It is of no use once
 * the server has been built again.
 */
export async function keepDemo(folder: string): Promise<void> {
  const fresh = `${kept}.${process.pid}`;
  await mkdir(join(kept, ".."), { recursive: true });
  await rm(fresh, { recursive: true, force: true });
  await cp(folder, fresh, { recursive: true });
  await rm(kept, { recursive: true, force: true });
  await rename(fresh, kept);
}

/** Put the kept demo desk into a folder, at the hour the demo begins. False when there is none that can be used. */
export async function takeDemo(folder: string): Promise<boolean> {
  const database = join(kept, "kite-bell.db");
  const built = join(root, "dist/built");
  if (!existsSync(database) || !existsSync(built)) return false;
  if ((await stat(database)).mtimeMs < (await stat(built)).mtimeMs) return false;
  await cp(kept, folder, { recursive: true });
  const copy = new Database(join(folder, "kite-bell.db"));
  copy.prepare("update counters set value = ? where name = 'rehearsal-ahead-ms'").run(DEMO_NOW - Date.now());
  copy.close();
  return true;
}
