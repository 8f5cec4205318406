import { execFile, spawn } from "node:child_process";
import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { promisify } from "node:util";
import { describe, expect, it } from "vitest";
import { dataFolder, freePort, running } from "../support/server.ts";

/** What keeps a desk running: read, held against what it must say, and its commands run as they stand, without an engine. */

const root = join(import.meta.dirname, "../..");
const run = promisify(execFile);
/** The flags of node itself a desk is started with, as the scripts have them. */
const SERVER_FLAGS = [
  .../SERVER_FLAGS = \[([^\]]*)\]/
    .exec(readFileSync(join(root, "scripts/lib.mjs"), "utf8"))![1]!
    .matchAll(/"([^"]+)"/g),
].map((m) => m[1]!);
const textOf = (path: string) => readFileSync(join(root, "deploy", path), "utf8");

/** The settings of a unit, by section. Source: systemd.syntax(7). */
function unit(): Map<string, Map<string, string[]>> {
  const sections = new Map<string, Map<string, string[]>>();
  let section = "";
  for (const line of textOf("kite-bell.service").split("\n")) {
    if (/^\s*([#;].*)?$/.test(line)) continue;
    const head = /^\[(\w+)\]$/.exec(line);
    if (head) section = head[1]!;
    const [, key, value] = /^(\w+)=(.*)$/.exec(line) ?? [];
    expect(head ?? key, line).toBeTruthy();
    const all = sections.get(section) ?? new Map<string, string[]>();
    sections.set(section, all);
    if (key) all.set(key, [...(all.get(key) ?? []), value!]);
  }
  return sections;
}

interface Instruction {
  readonly name: string;
  readonly text: string;
}
const dockerfile: readonly Instruction[] = textOf("Dockerfile")
  .split("\n")
  .filter((line) => !/^\s*(#.*)?$/.test(line))
  .map((line) => ({ name: line.split(" ", 1)[0]!, text: line.slice(line.indexOf(" ") + 1) }));
const ofName = (name: string) => dockerfile.filter((i) => i.name === name).map((i) => i.text);
const listed = (text: string) => JSON.parse(text.slice(text.indexOf("["))) as string[];

describe("the systemd unit", () => {
  it("is one that systemd takes, where it is there to be asked", async (context) => {
    if (!existsSync("/usr/bin/systemd-analyze") || !existsSync("/usr/bin/node")) return context.skip();
    const { stderr } = await run("systemd-analyze", ["verify", join(root, "deploy/kite-bell.service")]).catch(
      (error: { stderr: string }) => error,
    );
    // Where it would be installed there is nothing on this machine.
    const faults = stderr
      .split("\n")
      .filter((l) => /kite-bell/.test(l) && !/\/opt\/kite-bell|man:|Documentation/.test(l));
    expect(faults).toEqual([]);
  });

  it("runs as nobody, may write to its own folder alone, and starts what it names: well, and ended kindly within its time", async () => {
    const service = unit().get("Service")!;
    const one = (key: string) => service.get(key)?.[0];
    expect(one("DynamicUser")).toBe("yes");
    expect(one("ProtectSystem")).toBe("strict");
    expect(one("NoNewPrivileges")).toBe("yes");
    expect(one("Restart")).toBe("always");
    expect(service.get("Environment")).toEqual([`KITEBELL_DATA=/var/lib/${one("StateDirectory")}`]);
    const [node, ...args] = one("ExecStart")!.split(" ");
    expect(node).toBe("/usr/bin/node");
    expect(args).toEqual([...SERVER_FLAGS, "dist/main.mjs"]);
    const folder = await dataFolder();
    const port = await freePort();
    const env = { ...process.env, KITEBELL_DATA: folder.path, PORT: String(port) };
    const server = await running(
      spawn(process.execPath, args, { cwd: root, env, stdio: ["ignore", "pipe", "pipe"] }),
    );
    const healthy = listed(ofName("HEALTHCHECK")[0]!);
    expect(healthy[0]).toBe("node");
    const well = await run(process.execPath, healthy.slice(1), { cwd: root, env });
    expect(JSON.parse(well.stdout)).toMatchObject({ ok: true, checks: { disk: true, timers: true } });
    const ended = new Promise<number | null>((resolve) => server.process.once("exit", resolve));
    await server.stop(one("KillSignal") as NodeJS.Signals);
    expect(await ended).toBe(0);
    await expect(run(process.execPath, healthy.slice(1), { cwd: root, env })).rejects.toMatchObject({
      code: 1,
    });
    await folder.remove();
  });
});

describe("the Dockerfile", () => {
  it("is pinned, runs as nobody, and starts what the unit starts", () => {
    const { engines } = JSON.parse(readFileSync(join(root, "package.json"), "utf8")) as {
      engines: { node: string };
    };
    for (const image of ofName("FROM"))
      expect(image).toMatch(new RegExp(`^node:${engines.node.replace(">=", "")}-\\w+`));
    expect(ofName("ADD")).toEqual([]);
    const last = dockerfile.slice(dockerfile.findLastIndex((i) => i.name === "FROM"));
    expect(last.filter((i) => i.name === "USER").map((i) => i.text)).toEqual(["node"]);
    // What is done as root comes before.
    expect(last.findLastIndex((i) => i.name === "RUN")).toBeLessThan(
      last.findIndex((i) => i.name === "USER"),
    );
    expect(listed(ofName("CMD")[0]!)).toEqual(["node", ...SERVER_FLAGS, "dist/main.mjs"]);
    const settings = new Map(
      ofName("ENV")[0]!
        .split(" ")
        .map((s) => s.split("=") as [string, string]),
    );
    expect(settings.get("PORT")).toBe(ofName("EXPOSE")[0]);
    expect(settings.get("KITEBELL_DATA")).toBe(ofName("VOLUME")[0]);
    for (const step of ofName("RUN"))
      expect(step).not.toMatch(/apt-get install(?!.*--no-install-recommends)/);
  });

  it("copies what is there, and builds by scripts there are", () => {
    const { scripts } = JSON.parse(readFileSync(join(root, "package.json"), "utf8")) as {
      scripts: Record<string, string>;
    };
    const copied = ofName("COPY").flatMap((text) => {
      const [...parts] = text.split(" ").filter((p) => !p.startsWith("--"));
      return parts.slice(0, -1);
    });
    for (const path of copied) expect(existsSync(join(root, path.replace(/^\/app\//, ""))), path).toBe(true);
    for (const [, script] of ofName("RUN")
      .join("\n")
      .matchAll(/npm run (\w+)/g))
      expect(scripts).toHaveProperty(script!);
  });
});
