import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";
import { beforeAll, describe, expect, it } from "vitest";

/**
 * Every regular expression of the product, read from its source and judged by an analyser we did not make (recheck:
 * automata, and an attack where those cannot tell): none takes more than linear time on any text, however hostile. Where a
 * text is outside of our hands at all does not matter then, and need not be kept track of.
 */

const ROOT = join(import.meta.dirname, "../..");
/** What the analyser cannot tell within its time is tried on growing texts below. */
const PATIENCE = 180_000;
/** Each part of an analysis has that long: one that is cut short by a busy machine is taken for a find. */
const HOW = { timeout: PATIENCE, attackTimeout: PATIENCE, incubationTimeout: PATIENCE };

interface Found {
  readonly place: string;
  readonly source: string;
  readonly flags: string;
}

function expressionsIn(folder: string): Found[] {
  return readdirSync(join(ROOT, folder), { recursive: true, encoding: "utf8" })
    .filter((name) => /\.tsx?$/.test(name) && !/\.test\./.test(name))
    .flatMap((name) => {
      const path = join(folder, name);
      const file = ts.createSourceFile(
        path,
        readFileSync(join(ROOT, path), "utf8"),
        ts.ScriptTarget.Latest,
        true,
        path.endsWith("x") ? ts.ScriptKind.TSX : ts.ScriptKind.TS,
      );
      const found: Found[] = [];
      const visit = (node: ts.Node): void => {
        if (ts.isRegularExpressionLiteral(node)) {
          const end = node.text.lastIndexOf("/");
          const { line } = file.getLineAndCharacterOfPosition(node.getStart());
          found.push({
            place: `${path}:${line + 1}`,
            source: node.text.slice(1, end),
            flags: node.text.slice(end + 1),
          });
        }
        ts.forEachChild(node, visit);
      };
      visit(file);
      return found;
    });
}

const all = ["core", "server", "web", "standins"].flatMap(expressionsIn);

describe("regular expressions", () => {
  let check: typeof import("recheck").checkSync;
  beforeAll(async () => {
    // Its other engine would be a program of its own.
    process.env.RECHECK_BACKEND = "pure";
    check = (await import("recheck")).checkSync;
  });

  it("are found at all", () => {
    expect(all.length).toBeGreaterThan(150);
  });
  it("are judged: one known to be slow is called so", () => {
    expect(check("^(a+)+$", "", HOW).status).toBe("vulnerable");
    expect(check("<!DOCTYPE[^[>]*(\\[[^\\]]*\\]\\s*)?>", "i", HOW).status).toBe("vulnerable");
  });
  it("take linear time, every one", () => {
    const judged = new Map<string, string>();
    const slow: string[] = [];
    for (const { place, source, flags } of all) {
      const key = `/${source}/${flags}`;
      const status = judged.get(key) ?? check(source, flags, HOW).status;
      judged.set(key, status);
      if (status !== "safe") slow.push(`${place} ${key}: ${status}`);
    }
    expect(slow).toEqual([]);
  }, 600_000);
});
