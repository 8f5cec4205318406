import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { conditionProblem, evaluate } from "../../core/condition/condition.ts";
import type { Condition, FieldKey, Operator } from "../../core/condition/tree.ts";
import { NOBODY } from "../../core/lead/blank.ts";
import { concerns } from "../../core/lead/columns.ts";
import { catalogue, factsOf, fieldFinder } from "../../core/lead/fields.ts";
import type { CadenceRun, Lead } from "../../core/lead/lead.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { NINE } from "../../tests/support/desk.ts";
import { Sql } from "../db/sql.ts";
import { LEAD_COLUMNS, leadRow } from "../engine/rows.ts";
import { Columns } from "./columns.ts";
import { LeadCache } from "./lead-cache.ts";
import { Listing, orderOf, SORTS } from "./listing.ts";
import { whereOf } from "./where.ts";

/** Lists as the database and the columns in memory find them, against core, which asks every lead. */

const DAY = 86_400_000;
const setup = {
  ...tarnholt,
  policies: {
    ...tarnholt.policies,
    products: [
      ...tarnholt.policies.products,
      { ...tarnholt.policies.products[0]!, key: "Überbau", name: "Ü" },
    ],
  },
};
const maybe = <T>(some: fc.Arbitrary<T>) => fc.option(some, { nil: null, freq: 3 });
const words = [
  "barrel",
  "BARREL ",
  "Überbau",
  "lodge",
  " spa",
  "ﬁ",
  "İstanbul",
  "a'b",
  "100%",
  "_",
  "x\u001fy",
  "ß",
];
const word = fc.constantFrom(...words);
const person = fc.constantFrom("p_mara", "p_idris", "p_noor", "p_gone");
const time = fc.oneof(
  fc.integer({ min: NINE - 40 * DAY, max: NINE }),
  fc.constantFrom(NINE, NINE - DAY, NINE - DAY + 1, NINE - 2 * DAY, NINE - 7 * DAY - 1),
);
const run = (cadenceId: string, ended: boolean): CadenceRun =>
  ({
    id: `run_${cadenceId}`,
    cadenceId,
    version: 1,
    n: 0,
    state: "running",
    at: null,
    ended: ended ? { at: 1, why: null } : null,
  }) as CadenceRun;
const leads: fc.Arbitrary<Lead> = fc
  .record({
    name: maybe(word),
    company: maybe(word),
    stage: fc.constantFrom("New", "Talking", "Qualified", "gone"),
    sourceId: fc.constantFrom(...tarnholt.sources.map((s) => s.id), "src_gone"),
    tags: fc.uniqueArray(word, { maxLength: 3 }),
    ownerId: maybe(person),
    coversFor: maybe(person),
    creditId: maybe(person),
    inquiries: fc.integer({ min: 1, max: 3 }),
    tries: fc.integer({ min: 0, max: 4 }),
    reached: fc.boolean(),
    createdAt: time,
    lastActivityAt: time,
    lastTryAt: maybe(time),
    closed: fc.boolean(),
    runs: fc.subarray(tarnholt.policies.cadences.map((c) => c.id).slice(0, 3)),
    facts: fc.record({
      product: maybe(fc.constantFrom("barrel", "Barrel", "überbau", "Überbau", "lodge")),
      territory: maybe(fc.constantFrom(...tarnholt.policies.territories.map((t) => t.key), "gone")),
      language: fc.constantFrom("en", "fr"),
      postalCode: maybe(fc.constantFrom("80301", "h1a 2b3", "H1A")),
      value: maybe(fc.constantFrom(0, 1, 2.5, 1000, -3)),
      preferred: maybe(fc.constantFrom("call" as const, "text" as const)),
      message: maybe(word),
      answers: fc.record({ utm_campaign: word }, { requiredKeys: [] }),
    }),
  })
  .map(
    ({ facts, runs, closed, ...more }): Lead => ({
      ...NOBODY,
      ...more,
      closed: closed ? ({ at: NINE, reason: "x", kind: "lost" } as Lead["closed"]) : null,
      cadences: runs.map((id, i) => run(id, i === 2)),
      facts: { ...NOBODY.facts, ...facts, answers: facts.answers as Record<string, string> },
    }),
  );

let sql: Sql;
let listing: Listing;
let inMemory: Listing;
let all: Lead[];
beforeAll(async () => {
  sql = await Sql.open(":memory:", { references: false });
  all = fc
    .sample(leads, { numRuns: 240, seed: 7 })
    .map((lead, i) => ({ ...lead, id: `lead_${String(i).padStart(4, "0")}` }));
  const insert = sql.inserter("leads", LEAD_COLUMNS);
  const insertRun = sql.inserter("cadenceLeads", [
    "cadenceId",
    "leadId",
    "runId",
    "version",
    "n",
    "state",
    "at",
  ]);
  for (const lead of all) {
    insert(leadRow(lead));
    for (const { id, cadenceId, version, n, state, at, ended } of lead.cadences)
      if (!ended) insertRun({ cadenceId, leadId: lead.id, runId: id, version, n, state, at });
  }
  listing = new Listing(sql, new LeadCache(sql));
  const columns = new Columns(sql);
  columns.start();
  await vi.waitUntil(() => columns.now() !== null, { timeout: 120_000 });
  inMemory = new Listing(sql, new LeadCache(sql), columns);
});
afterAll(() => sql.close());

/** What each field may be compared with, right or beside it. */
const fields = catalogue(setup).filter((f) => !f.key.startsWith("own.") && !f.key.startsWith("answer."));
const values: Partial<Record<FieldKey, readonly string[]>> = {
  company: [...words, "a"],
  campaign: words,
  message: words,
  "postal-code": ["80301", "H1A", "h"],
  tag: [...words, "y"],
  "first-came": ["2026-03-04", "2026-02-20", "2026-01-30", "2027-01-01"],
  "time-of-day": ["08:00", "09:00", "17:00"],
};
const test: fc.Arbitrary<Condition> = fc.constantFrom(...fields).chain((field) => {
  const known = [...(values[field.key] ?? []), ...field.choices.map((c) => c.value)];
  const value: fc.Arbitrary<string | number> =
    field.type === "number"
      ? fc.constantFrom(0, 1, 2, 3, 2.5, 7, -1, 1000)
      : fc.constantFrom(...(known.length > 0 ? known : words));
  return fc.constantFrom(...field.operators).chain((is: Operator): fc.Arbitrary<Condition> => {
    const bare = { field: field.key, is };
    if (is === "known" || is === "unknown") return fc.constant(bare);
    if (is === "between") return fc.tuple(value, value).map((v) => ({ ...bare, value: v.map(String) }));
    if (is === "one-of" || is === "contains" || is === "not-equal")
      return fc.array(value, { minLength: 1, maxLength: 3 }).map((v) => ({ ...bare, value: v.map(String) }));
    return value.map((v) => ({ ...bare, value: v }));
  });
});
const condition: fc.Arbitrary<Condition> = fc.letrec<{ node: Condition }>((tie) => ({
  node: fc.oneof(
    { maxDepth: 3 },
    { weight: 3, arbitrary: test },
    ...(["all", "any", "none"] as const).map((kind) => ({
      weight: 1,
      arbitrary: fc
        .array(tie("node"), { minLength: 1, maxLength: 3 })
        .map((list) => ({ [kind]: list }) as unknown as Condition),
    })),
  ),
})).node;

const find = fieldFinder(setup);
const recent = orderOf("recent")!;

describe("a condition in SQL and in memory", () => {
  it("finds every lead core finds, and no other where it says so: 3,000 random conditions", () => {
    let exact = 0;
    fc.assert(
      fc.property(condition, (when) => {
        fc.pre(conditionProblem(when, find) === null);
        const where = whereOf(when, setup, NINE);
        const right = all.filter((lead) => evaluate(when, factsOf(lead, setup, NINE))).map((l) => l.id);
        const found = sql
          .all(sql.q.selectFrom("leads").select("id").where(where.sql).orderBy("id"))
          .map((r) => r.id);
        if (where.exact) {
          exact++;
          expect(found).toEqual(right);
        } else expect(found).toEqual(expect.arrayContaining(right));
        for (const way of [listing, inMemory])
          expect(way.count({ where, order: recent, of: null })).toBe(right.length);
        expect(inMemory.ids({ where, order: recent, of: null }, 5_000)?.sort()).toEqual(right);
      }),
      { numRuns: 3_000 },
    );
    // Most of the catalogue stands in columns.
    expect(exact).toBeGreaterThan(1_500);
  });
  it("follows the clock: what is so many days old is older tomorrow", () => {
    const when: Condition = { field: "age", is: "at-most", value: 1 };
    for (const now of [NINE, NINE + 1, NINE + DAY - 1, NINE + DAY, NINE + 3 * DAY]) {
      const where = whereOf(when, setup, now);
      const right = all.filter((lead) => evaluate(when, factsOf(lead, setup, now)));
      for (const way of [listing, inMemory])
        expect([where.exact, way.count({ where, order: recent, of: null })]).toEqual([true, right.length]);
    }
  });
  it.each(["America/Denver", "Australia/Lord_Howe", "America/Asuncion", "Pacific/Apia", "Asia/Kolkata"])(
    "finds days as they are in %s, clock changes and skipped days too",
    (zone) => {
      const there = { ...setup, policies: { ...setup.policies, desk: { ...setup.policies.desk, zone } } };
      for (const value of ["2026-02-20", "2026-03-04", "2011-12-30", "2026-03-22", "2026-02-30"])
        for (const is of ["from", "before"] as const) {
          const where = whereOf({ field: "first-came", is, value }, there, NINE);
          const right = all.filter((lead) => where.holds(lead)).length;
          for (const way of [listing, inMemory])
            expect(way.count({ where, order: recent, of: null })).toBe(right);
        }
    },
  );
});

describe("pages of a list", () => {
  it("hold every lead once, in order, whatever the order and the size of a page, and only what is one’s own", async () => {
    const sorts = (Object.keys(SORTS) as (keyof typeof SORTS)[]).flatMap((by) => [by, `-${by}`]);
    await fc.assert(
      fc.asyncProperty(
        fc.option(condition, { nil: null }),
        fc.constantFrom(...sorts),
        fc.integer({ min: 1, max: 90 }),
        fc.constantFrom(null, "p_mara", "p_noor"),
        async (when, sort, size, of) => {
          fc.pre(conditionProblem(when, find) === null);
          const list = { where: whereOf(when, setup, NINE), order: orderOf(sort)!, of };
          const walk = (way: Listing): Lead[] => {
            const met: Lead[] = [];
            for (let after: string | null = null; ; ) {
              const page = way.page(list, size, after);
              met.push(...page.items);
              if (page.next === null) return met;
              expect(page.items).toHaveLength(size);
              after = page.next;
            }
          };
          const seen = walk(listing);
          expect(walk(inMemory).map((l) => l.id)).toEqual(seen.map((l) => l.id));
          const right = all.filter((l) => list.where.holds(l) && (of === null || concerns(l).includes(of)));
          expect(seen.map((l) => l.id).sort()).toEqual(right.map((l) => l.id).sort());
          const whole: string[] = [];
          for await (const lead of listing.all(list)) whole.push(lead.id);
          expect(whole).toEqual(seen.map((l) => l.id));
          const { column, down } = SORTS[orderOf(sort)!.by];
          const keys = seen.map((l) => leadRow(l)[column]);
          const falls = down !== sort.startsWith("-");
          for (let i = 1; i < keys.length; i++) {
            const [a, b] = [keys[i - 1]!, keys[i]!];
            if (b === null) continue;
            expect(a).not.toBeNull();
            if (typeof a === "number") expect(falls ? a >= (b as number) : a <= (b as number)).toBe(true);
          }
        },
      ),
      { numRuns: 250 },
    );
  });
  it("begin anew at a place that is none", () => {
    const list = { where: whereOf(null, setup, NINE), order: recent, of: null };
    const first = listing.page(list, 5, null);
    for (const place of [
      "",
      "x",
      Buffer.from("[1]").toString("base64url"),
      Buffer.from('[{"a":1},"b"]').toString("base64url"),
    ])
      expect(listing.page(list, 5, place)).toEqual(first);
  });
  it("have no order of a name that is none", () =>
    expect(["constructor", "__proto__", "", "-", "--name"].map(orderOf)).toEqual([
      null,
      null,
      null,
      null,
      null,
    ]));
});
