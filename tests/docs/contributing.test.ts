import { execFileSync } from "node:child_process";
import { cp, mkdir, mkdtemp, readFile, rm, symlink, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";

/** The example in CONTRIBUTING.md is followed step by step in a copy of the tree. */

const root = join(import.meta.dirname, "../..");
/** What a copy needs to be checked. */
const PARTS = ["app", "core", "demo", "server", "standins", "tests", "web", "bench"];
const FILES = ["tsconfig.json", "package.json", "vitest.config.ts", "playwright.config.ts"];

interface Step {
  readonly does: "new" | "before";
  readonly file: string;
  readonly anchor: string | null;
  readonly code: string;
}

/** Steps are code fences that name a file: a new one, or what stands before an anchor of an old one. */
function stepsIn(guide: string): Step[] {
  return [...guide.matchAll(/^```tsx? (new|before) (\S+)(?: (".*"))?\n([\s\S]*?)^```$/gm)].map(
    ([, does, file, anchor, code]) => ({
      does: does as Step["does"],
      file: file!,
      anchor: anchor ? (JSON.parse(anchor) as string) : null,
      code: code!,
    }),
  );
}

let copy: string;
let steps: Step[];
beforeAll(async () => {
  copy = await mkdtemp(join(tmpdir(), "kite-bell-guide-"));
  for (const name of [...PARTS, ...FILES]) await cp(join(root, name), join(copy, name), { recursive: true });
  await symlink(join(root, "node_modules"), join(copy, "node_modules"));
  steps = stepsIn(await readFile(join(root, "CONTRIBUTING.md"), "utf8"));
});
afterAll(() => rm(copy, { recursive: true, force: true }));

async function follow({ does, file, anchor, code }: Step): Promise<void> {
  const path = join(copy, file);
  if (does === "new") {
    await mkdir(dirname(path), { recursive: true });
    return writeFile(path, code, { flag: "wx" });
  }
  const text = await readFile(path, "utf8");
  const at = text.indexOf(anchor!);
  expect([file, anchor, at >= 0, text.indexOf(anchor!, at + 1)]).toEqual([file, anchor, true, -1]);
  await writeFile(path, text.slice(0, at) + code + text.slice(at));
}

/** What a command says, and whether it was content. */
function run(command: string, ...args: string[]): { good: boolean; said: string } {
  try {
    return { good: true, said: execFileSync(command, args, { cwd: copy, encoding: "utf8", stdio: "pipe" }) };
  } catch (error) {
    const { stdout, stderr } = error as { stdout: string; stderr: string };
    return { good: false, said: stdout + stderr };
  }
}
const bin = (name: string) => join(root, "node_modules/.bin", name);
/** The compiler of `npm run check`. */
const TYPES = join(root, "node_modules/typescript-native/bin/tsc");

describe("the example in CONTRIBUTING.md", () => {
  it("touches every floor, begins with a test that fails, and ends with types that fit and a test that passes", async () => {
    expect(steps.map((s) => s.file.split("/").slice(0, 2).join("/"))).toEqual([
      "core/desk",
      "core/lead",
      "core/desk",
      "web/wire",
      "web/calls",
      "web/pages",
      "web/views",
    ]);
    const test = steps[0]!.file;
    await follow(steps[0]!);
    expect(run(bin("vitest"), "run", test).good).toBe(false);
    for (const step of steps.slice(1)) await follow(step);
    expect(run(TYPES, "--noEmit").said).toBe("");
    const tried = run(bin("vitest"), "run", test);
    expect([tried.good, tried.said.match(/Tests.*?(\d+) passed/)?.[1]]).toEqual([true, "2"]);
  }, 900_000);

  it("names only files, folders and commands that are there", async () => {
    const guide = await readFile(join(root, "CONTRIBUTING.md"), "utf8");
    const scripts = JSON.parse(await readFile(join(root, "package.json"), "utf8")).scripts as object;
    const commands = [...guide.matchAll(/`npm run (\w+)/g)].map((m) => m[1]!);
    expect(commands.filter((name) => !(name in scripts))).toEqual([]);
    const links = [...guide.matchAll(/\]\(([^)#]+)\)/g)].map((m) => m[1]!);
    expect(links.length).toBeGreaterThan(3);
    const listed = execFileSync("git", ["ls-files", "--cached", "--others", "--exclude-standard"], {
      cwd: root,
      encoding: "utf8",
    });
    expect(links.filter((link) => !listed.includes(link))).toEqual([]);
    const benches = [...guide.matchAll(/`npm run bench -- intake`.*?: (.*?) \|/g)][0]![1]!.match(/\w+/g)!;
    const main = await readFile(join(root, "bench/main.ts"), "utf8");
    expect(benches.filter((name) => !new RegExp(`\\b${name}\\b`).test(main))).toEqual([]);
  });
});
