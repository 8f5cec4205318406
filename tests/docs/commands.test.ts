import { execFileSync, spawn } from "node:child_process";
import { once } from "node:events";
import { cp, mkdtemp, rm, symlink, utimes } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { client, running } from "../support/server.ts";

/** The README's commands as somebody types them, in a copy of what is under version control and its build. */

const root = join(import.meta.dirname, "../..");
let copy: string;

beforeAll(async () => {
  copy = await mkdtemp(join(tmpdir(), "kite-bell-commands-"));
  const files = execFileSync("git", ["ls-files"], { cwd: root, encoding: "utf8" }).split("\n");
  const parts = new Set([...files.filter(Boolean).map((f) => f.split("/")[0]!), "dist"]);
  for (const part of parts)
    await cp(join(root, part), join(copy, part), { recursive: true, preserveTimestamps: true });
  await symlink(join(root, "node_modules"), join(copy, "node_modules"));
  // Nothing is to be installed or built by this: the packages are the tree's own, and a second build would take minutes.
  await utimes(join(copy, "package-lock.json"), 0, 0);
  const now = new Date();
  await utimes(join(copy, "dist/built"), now, now);
});
afterAll(() => rm(copy, { recursive: true, force: true }));

/** Type a command, wait for the address it prints, and end it as Ctrl-C does: all of it at once. */
async function typed(args: readonly string[], see: (origin: string) => Promise<void>): Promise<void> {
  const command = spawn("npm", ["run", "-s", ...args], {
    cwd: copy,
    detached: true,
    env: { ...process.env, KITEBELL_DATA: "" },
  });
  const gone = once(command, "exit");
  try {
    await see((await running(command)).origin);
  } finally {
    process.kill(-command.pid!, "SIGINT");
    await gone;
  }
}

describe("npm run demo -- --empty", () => {
  it("has people, rules and sources, no lead, and no memory of the time before", async () => {
    const command = ["demo", "--", "--empty", "--port", "0"];
    const leads = async (origin: string) => (await client(origin).get("/leads")).body.items;
    await typed(command, async (origin) => {
      const { post, get } = client(origin);
      expect((await get("/setup/people")).body.people.length).toBeGreaterThan(5);
      expect((await get("/setup/routing")).body.live.rules.length).toBeGreaterThan(0);
      expect(await leads(origin)).toEqual([]);
      expect((await post("/leads", { name: "Ana Ruiz", phone: "303 555 0110" })).status).toBe(201);
      expect(await leads(origin)).toHaveLength(1);
    });
    await typed(command, async (origin) => expect(await leads(origin)).toEqual([]));
  });
});

describe("npm start", () => {
  it("is nobody's: it shows the page where the first visitor sets it up", async () => {
    await typed(["start", "--", "--port", "0", "--data", join(copy, "real")], async (origin) => {
      expect(await (await fetch(origin)).text()).toContain("Set up the desk");
    });
  });
});
