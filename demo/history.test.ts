import { mkdtemp, readFile, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { RuleSet } from "../core/policy/routing.ts";
import { fairShare } from "../core/report/fair-share.ts";
import { Sql } from "../server/db/sql.ts";
import { runPlayback } from "../server/playback/record.ts";
import { Reader } from "../server/read/reader.ts";
import { verify } from "../server/verify-desk.ts";
import { keepDemo } from "../tests/support/demo.ts";
import { DEMO_NOW, makeHistory } from "./history.ts";
import { tarnholt } from "./tarnholt.ts";

let folder: string;
let made: Awaited<ReturnType<typeof makeHistory>>;
let sql: Sql;
let reader: Reader;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), "kite-bell-history-"));
  made = await makeHistory(folder);
  await keepDemo(folder);
  sql = await Sql.open(join(folder, "kite-bell.db"));
  reader = new Reader(sql);
});
afterAll(async () => {
  sql.close();
  await rm(folder, { recursive: true, force: true });
});

describe("the demo's sixty days", () => {
  it("are made by the engine itself: as many inquiries as such a company gets, each row the fold of its events", () => {
    expect(made.now).toBe(DEMO_NOW);
    expect(made.inquiries).toBeGreaterThan(1_300);
    expect(made.inquiries).toBeLessThan(1_800);
    expect(verify(sql).faults).toEqual([]);
  });
  it("end with the morning as it is played by hand", () => {
    const names = (place: "answer" | "rung") => reader.band(place, made.now, 50).map((lead) => lead.name);
    expect(names("answer")).toEqual([
      "Halvard Osei",
      "Piotr Lachance",
      "Solveig Marchetti",
      "Anneliese Fourcade",
      "Baptiste Thibault",
      "Ruth Nakagawa",
      "Tendai Whitcombe",
    ]);
    expect(names("rung")).toContain("Deshawn Eklund");
  });
  it("have badly answered stretches, so that figures have something to say, and somebody nobody can reach", () => {
    const rang = sql.all(sql.q.selectFrom("events").select("at").where("kind", "=", "rang"));
    expect(rang.length).toBeGreaterThan(100);
    expect(reader.quarantine(10).length).toBeGreaterThan(0);
  });
  it("leave the newest messages outside", async () => {
    const outside = (await readFile(join(folder, "outside.jsonl"), "utf8")).trim().split("\n");
    expect(outside).toHaveLength(150);
  });
  it("hold only made-up people: reserved domains, and the numbers set aside for fiction", () => {
    const values = (kind: "email" | "phone") =>
      sql.all(sql.q.selectFrom("contacts").select("value").where("kind", "=", kind)).map((c) => c.value);
    for (const mail of values("email")) expect(mail).toMatch(/@(.+\.example|example\.(com|org))$/);
    expect(values("phone").length).toBeGreaterThan(1_000);
    for (const phone of values("phone")) expect(phone).toMatch(/^\+1\d{3}55501\d\d$/);
  });
});

describe("playback of the demo", () => {
  const { rules, setAside } = tarnholt.policies;
  const play = (change: Partial<RuleSet>) =>
    runPlayback(
      {
        path: join(folder, "kite-bell.db"),
        rules: { rules, setAside, ...change },
        from: 0,
        to: DEMO_NOW,
        roster: "then",
      },
      () => {},
    );

  it("through the rules that were live comes out as it was, with the figures of the report over the same events", async () => {
    const same = await play({});
    expect(same.inquiries).toBeGreaterThan(1_200);
    expect(same.changed).toBe(0);
    expect(same.differences).toEqual([]);
    const events = reader.shareEvents(0, DEMO_NOW);
    const shares = fairShare(events, tarnholt, { at: DEMO_NOW, loads: {}, rotations: {} });
    const offers = shares.reduce((sum, g) => sum + g.offered, 0);
    expect(same.rules.reduce((sum, r) => sum + r.fired, 0)).toBe(offers);
    const refused = events.filter((e) => e.kind === "passed" || e.kind === "lapsed");
    expect(same.refusals.was).toBe(refused.length);
    const took = (id: string) => events.filter((e) => e.kind === "taken" && e.data.personId === id).length;
    for (const { id, got } of same.people.filter((p) => p.offered.was > 0))
      expect([id, got.was]).toEqual([id, took(id)]);
  });
  it("without its first rule sends leads elsewhere, and none to whom only that rule knows", async () => {
    const others = await play({ rules: rules.slice(1) });
    expect(others.changed).toBeGreaterThan(50);
    expect(others.people.find((p) => p.id === "p_ravi")?.offered.would ?? 0).toBe(0);
  });
});
