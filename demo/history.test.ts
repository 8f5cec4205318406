import { mkdtemp, readFile, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, it } from "vitest";
import type { RuleSet } from "../core/policy/routing.ts";
import { fairShare } from "../core/report/fair-share.ts";
import { Sql } from "../server/db/sql.ts";
import { runPlayback } from "../server/playback/record.ts";
import { Reader } from "../server/read/reader.ts";
import { verify } from "../server/verify-desk.ts";
import { keepDemo } from "../tests/support/demo.ts";
import { DEMO_NOW, makeHistory } from "./history.ts";
import { tarnholt } from "./tarnholt.ts";

const folders: string[] = [];
const make = async () => {
  const folder = await mkdtemp(join(tmpdir(), "kite-bell-history-"));
  folders.push(folder);
  return { folder, ...(await makeHistory(folder)) };
};
afterAll(async () => {
  for (const folder of folders) await rm(folder, { recursive: true, force: true });
});

it("the demo is sixty believable days made by the engine itself", async () => {
  const { folder, inquiries, now } = await make();
  await keepDemo(folder);
  expect(now).toBe(DEMO_NOW);
  expect(inquiries).toBeGreaterThan(1_300);
  expect(inquiries).toBeLessThan(1_800);
  const sql = await Sql.open(join(folder, "kite-bell.db"));
  expect(verify(sql).faults).toEqual([]);
  const reader = new Reader(sql);
  const names = (place: "answer" | "rung") => reader.band(place, now, 50).map((lead) => lead.name);
  // The morning as it is played by hand.
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
  // Badly answered stretches, so that figures have something to say; and somebody unreachable in quarantine.
  const rang = sql.all(sql.q.selectFrom("events").select("at").where("kind", "=", "rang"));
  expect(rang.length).toBeGreaterThan(100);
  expect(reader.quarantine(10).length).toBeGreaterThan(0);
  const outside = (await readFile(join(folder, "outside.jsonl"), "utf8")).trim().split("\n");
  expect(outside).toHaveLength(150);
  // Only made-up people: reserved domains, nobody's mail.
  const mails = sql.all(sql.q.selectFrom("contacts").select("value").where("kind", "=", "email"));
  for (const { value } of mails) expect(value).toMatch(/@(.+\.example|example\.(com|org))$/);
  // And nobody's telephone: the range set aside for fiction alone.
  const phones = sql.all(sql.q.selectFrom("contacts").select("value").where("kind", "=", "phone"));
  expect(phones.length).toBeGreaterThan(1_000);
  for (const { value } of phones) expect(value).toMatch(/^\+1\d{3}55501\d\d$/);
  sql.close();
  await playsBack(folder);
});

/** Through the rules that were live a playback comes out as it was; through others it does not. */
async function playsBack(folder: string): Promise<void> {
  const path = join(folder, "kite-bell.db");
  const { rules, setAside } = tarnholt.policies;
  const play = (change: Partial<RuleSet>) =>
    runPlayback(
      { path, rules: { rules, setAside, ...change }, from: 0, to: DEMO_NOW, roster: "then" },
      () => {},
    );
  const same = await play({});
  expect(same.inquiries).toBeGreaterThan(1_200);
  expect(same.changed).toBe(0);
  expect(same.differences).toEqual([]);
  // Its figures are those of the report over the same events.
  const sql = await Sql.open(path);
  const events = new Reader(sql).shareEvents(0, DEMO_NOW);
  const shares = fairShare(events, tarnholt, { at: DEMO_NOW, loads: {}, rotations: {} });
  const offers = shares.reduce((sum, g) => sum + g.offered, 0);
  expect(same.rules.reduce((sum, r) => sum + r.fired, 0)).toBe(offers);
  const refused = events.filter((e) => e.kind === "passed" || e.kind === "lapsed");
  expect(same.refusals.was).toBe(refused.length);
  const took = (id: string) => events.filter((e) => e.kind === "taken" && e.data.personId === id).length;
  for (const { id, got } of same.people.filter((p) => p.offered.was > 0))
    expect([id, got.was]).toEqual([id, took(id)]);
  sql.close();
  const others = await play({ rules: rules.slice(1) });
  expect(others.changed).toBeGreaterThan(50);
  expect(others.people.find((p) => p.id === "p_ravi")?.offered.would ?? 0).toBe(0);
}
