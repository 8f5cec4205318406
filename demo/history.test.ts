import { mkdtemp, readFile, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { isDeepStrictEqual } from "node:util";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { z } from "zod";
import type { EventKind, LeadEvent } from "../core/lead/events.ts";
import { entryOf } from "../core/lead/events.ts";
import { foldAll } from "../core/lead/fold.ts";
import { withDefaults } from "../core/policy/defaults.ts";
import type { RuleSet } from "../core/policy/routing.ts";
import type { Setup } from "../core/policy/setup.ts";
import { companyWords, erased, isKnownKey } from "../core/privacy/erase.ts";
import { tracesOf } from "../core/privacy/traces.ts";
import { accountOf } from "../core/report/account.ts";
import { fairShare } from "../core/report/fair-share.ts";
import { describeEvent } from "../core/words/describe.ts";
import { MovableClock } from "../server/clock.ts";
import { Sql } from "../server/db/sql.ts";
import type { Desk } from "../server/desk.ts";
import type { Answers, Question, QuestionKind, Questions } from "../server/figures/questions.ts";
import { Teller } from "../server/figures/teller.ts";
import { runPlayback } from "../server/playback/record.ts";
import { Reader } from "../server/read/reader.ts";
import { verify } from "../server/verify-desk.ts";
import { keepDemo } from "../tests/support/demo.ts";
import { testDesk } from "../tests/support/desk.ts";
import { Duck } from "../tests/support/duck.ts";
import { replay } from "../tests/support/replay.ts";
import * as answering from "../web/wire/answering-schemas.ts";
import * as bells from "../web/wire/bells-schemas.ts";
import * as routing from "../web/wire/routing-schemas.ts";
import * as wire from "../web/wire/schemas.ts";
import { toPeople, toQueue, toSheet } from "../web/wire/shape.ts";
import { toAlerts, toCalls, toReplies, toTemplates } from "../web/wire/shape-answering.ts";
import { toBells, toHours, toManagersList, toMorning, toParked, toParking } from "../web/wire/shape-bells.ts";
import { toFairShare, toPeopleSetup, toRouting, toWeek } from "../web/wire/shape-routing.ts";
import { Chance } from "./chance.ts";
import { DEMO_NOW, makeHistory } from "./history.ts";
import { tarnholt } from "./tarnholt.ts";

/** The whole history is made, on a machine that may be busy (ms): it catches what hangs, not what is slow. */
const PATIENCE = 600_000;

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
}, PATIENCE);
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
  it("come about again in the lab's desk, event for event, when the same people come and do the same", () => {
    const rows = sql.all(sql.q.selectFrom("events").selectAll().orderBy("n"));
    const events = rows.map(
      ({ actorJson, dataJson, ...head }) =>
        ({ ...head, actor: JSON.parse(actorJson), data: JSON.parse(dataJson) }) as LeadEvent,
    );
    const setups = sql
      .all(sql.q.selectFrom("setup").select(["at", "setupJson"]).orderBy("version"))
      .map(({ at, setupJson }) => ({ at, setup: withDefaults(JSON.parse(setupJson) as Setup) }));
    const told = replay({ setups, events });
    expect(told.differ).toEqual([]);
    const count = (kinds: Iterable<EventKind>) => {
      const counts = new Map<EventKind, number>();
      for (const kind of kinds) counts.set(kind, (counts.get(kind) ?? 0) + 1);
      return counts;
    };
    expect(told.alike).toEqual(count(events.map((e) => e.kind)));
    // Nothing of how leads are offered, rung and written to is taken as it stands; of mails only those somebody sent by hand.
    for (const kind of [
      "offered",
      "lapsed",
      "bell-started",
      "nudged",
      "rang",
      "climbed",
      "stood-by",
      "given",
    ] as const)
      expect([kind, told.taken.get(kind) ?? 0]).toEqual([kind, 0]);
    const byHand = events.filter((e) => e.kind === "message-out" && e.actor.kind === "person");
    expect(told.taken.get("message-out")).toBe(byHand.length);
    // By another policy it goes another way: the check can fail.
    const slower = setups.map(({ at, setup }) => ({
      at,
      setup: {
        ...setup,
        policies: {
          ...setup.policies,
          rules: setup.policies.rules.map((r) => (r.id === "r_french" ? { ...r, offerMinutes: 3 } : r)),
        },
      },
    }));
    expect(replay({ setups: slower, events }).differ[0]).toMatch(/offered: offered\.data\.until/);
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

describe("what the web shows of it", () => {
  let desk: Desk;
  beforeAll(async () => {
    desk = await testDesk({ data: folder, clock: new MovableClock(DEMO_NOW, { frozen: true }) });
  });
  afterAll(() => desk.close());

  /** What is sent but not described, or described and not so: a field that the schema drops is one too many. */
  const wrong = (name: string, schema: z.ZodType, sent: unknown): string[] => {
    const plain: unknown = JSON.parse(JSON.stringify(sent));
    const parsed = schema.safeParse(plain);
    if (!parsed.success) return parsed.error.issues.map((i) => `${name}: ${i.path.join(".")} ${i.message}`);
    return isDeepStrictEqual(JSON.parse(JSON.stringify(parsed.data)), plain)
      ? []
      : [`${name}: more than is described`];
  };

  it("of any lead is its sheet as the schema says, and nothing beside it", () => {
    const all = sql.all(sql.q.selectFrom("leads").select("id").orderBy("id"));
    const some = all.filter((_, i) => i % 4 === 0);
    const faults = some.flatMap(({ id }) => wrong(`sheet of ${id}`, wire.Sheet, toSheet(desk, id)));
    expect(some.length).toBeGreaterThan(300);
    expect(faults.slice(0, 5)).toEqual([]);
  });
  it("of every event is a sentence of its own, and of those that are shown none is empty", () => {
    const ids = sql.all(sql.q.selectFrom("leads").select("id").orderBy("id"));
    const kinds = new Set<string>();
    const empty: string[] = [];
    for (const { id } of ids)
      for (const event of reader.events(id)) {
        kinds.add(event.kind);
        if (!describeEvent(event, desk.setup).trim()) empty.push(`${id} ${event.kind}`);
      }
    expect(empty).toEqual([]);
    expect(kinds.size).toBeGreaterThan(30);
  });
  it("on every view is what the schema says, and nothing beside it", () => {
    const looks: [string, z.ZodType, unknown][] = [
      ["queue", wire.Queue, toQueue(desk, 200, true, null)],
      ["people", wire.Person.array(), toPeople(desk)],
      ["managers’ list", bells.ManagersList, toManagersList(desk)],
      ["parked", bells.ParkedList, toParked(desk, 200, null)],
      ["morning", bells.MorningSummary, toMorning(desk)],
      ["bells", bells.BellsSetup, toBells(desk)],
      ["hours", bells.HoursSetup, toHours(desk)],
      ["parking", bells.ParkingSetup, toParking(desk)],
      ["replies", answering.RepliesSetup, toReplies(desk.setup)],
      ["templates", answering.TemplatesSetup, toTemplates(desk)],
      ["alerts", answering.AlertsSetup, toAlerts(desk.setup, desk.clock.now())],
      ["calls", answering.CallsSetup, toCalls(desk.setup)],
      ["people’s setup", routing.PeopleSetup, toPeopleSetup(desk)],
      ["week", routing.Week, toWeek(desk, DEMO_NOW)],
      ["routing", routing.RoutingSetup, toRouting(desk, true)],
      ["fair share", routing.FairShare, toFairShare(desk, 0, DEMO_NOW)],
    ];
    expect(looks.flatMap(([name, schema, sent]) => wrong(name, schema, sent))).toEqual([]);
  });
});

describe("figures over the sixty days", () => {
  let duck: Duck;
  let teller: Teller;
  beforeAll(async () => {
    duck = await Duck.of(sql);
    teller = new Teller(sql);
    while (teller.follow());
  }, PATIENCE);
  afterAll(() => duck.close());
  const DAY = 86_400_000;
  /** Spans by chance, always the same, and all of it. */
  const chance = new Chance(17);
  const spans = [
    { from: DEMO_NOW - 80 * DAY, to: DEMO_NOW },
    ...Array.from({ length: 12 }, () => {
      const from = Math.floor(DEMO_NOW - 62 * DAY * chance.next());
      return { from, to: Math.floor(from + (DEMO_NOW - from) * chance.next()) + 1 };
    }),
  ].map((span) => ({ ...span, now: DEMO_NOW }));
  const given = ({ from, to, now }: (typeof spans)[number]) => ({
    from: BigInt(from),
    to: BigInt(to),
    now: BigInt(now),
  });
  const tell = <K extends QuestionKind>(kind: K, asked: Questions[K]): Answers[K] =>
    teller.tell({ kind, asked, setup: tarnholt, setupN: 1 } as Question) as Answers[K];

  it("are accounted for as the events say, of every lead", () => {
    expect(teller.book.behind()).toBe(0);
    expect(verify(sql).faults).toEqual([]);
  });

  it("wait as another database tells it from the events: by Kaplan and Meier’s definition, by source and by target", async () => {
    for (const span of spans) {
      const told = tell("response", { ...span, clock: "wall", until: "try", by: "source", split: null });
      const curve = await duck.rows(
        `with w as (select leadId, source, case when tried <= coalesce(aside, 9e15) then tried - came
             else least(coalesce(aside, $now), $now) - came end as t,
             coalesce(tried <= coalesce(aside, 9e15), false) as hit from leads where came >= $from and came < $to),
           d as (select t, count(*) filter (hit) as d, (select count(*) from w x where x.t >= w.t) as n from w group by t)
         select t / 60000.0 as t, d, n,
           exp(sum(case when d = n then -745.0 else ln(1 - d / n) end) over (order by t)) as s from d where d > 0 order by t`,
        given(span),
      );
      const [{ n, hits }] = (await duck.rows(
        `select count(*) as n, count(*) filter (tried <= coalesce(aside, 9e15)) as hits from leads where came >= $from and came < $to`,
        given(span),
      )) as [{ n: number; hits: number }];
      expect([told.n, told.censored]).toEqual([n, n - hits]);
      const half = curve.find((p) => (p.s as number) <= 0.5 + 1e-9);
      expect(told.median.at?.toFixed(9)).toBe((half?.t as number | undefined)?.toFixed(9));
      for (const point of told.curve.slice(1)) {
        const other = curve.find((p) => Math.abs((p.t as number) - point.t) < 1e-9)!;
        expect([point.atRisk, Number(point.s.toFixed(9))]).toEqual([
          other.n,
          Number((other.s as number).toFixed(9)),
        ]);
      }
      const targets = await duck.rows(
        `select source, count(*) as n, count(*) filter (answered <= due) as hits from leads join targets using (leadId)
         where came >= $from and came < $to
           and (answered is not null and answered <= coalesce(off, 9e15) or least(coalesce(off, $now), $now) > due)
         group by source`,
        given(span),
      );
      for (const group of told.groups) {
        const other = targets.find((t) => t.source === group.key) ?? { n: 0, hits: 0 };
        expect([group.key, group.inTarget.n, group.inTarget.hits]).toEqual([group.key, other.n, other.hits]);
      }
    }
  });

  it("tell tries, ways, offers and people as that database does", async () => {
    for (const span of spans) {
      const effort = tell("effort", span);
      const perLead = await duck.rows(
        `select least(k, 10) as k, count(*) as leads from (select leadId, count(t.n) as k from leads left join tries t using (leadId)
         where came >= $from and came < $to group by leadId) group by 1`,
        given(span),
      );
      expect(effort.triesPerLead).toEqual(
        Array.from({ length: 11 }, (_, k) => perLead.find((r) => r.k === k)?.leads ?? 0),
      );
      const ways = await duck.rows(
        `select channel, count(*) as n, count(*) filter (reached) as hits from tries join leads using (leadId)
         where came >= $from and came < $to group by channel`,
        given(span),
      );
      expect(new Map(effort.byChannel.map((w) => [w.key, [w.reached.n, w.reached.hits]]))).toEqual(
        new Map(ways.map((w) => [w.channel, [w.n, w.hits]])),
      );
      const asked = await duck.rows(
        `with ended as (select a.person,
             (select e.kind from stood e where e.leadId = a.leadId and e.seq > a.seq and e.seq < a.nextSeq
               and (e.kind in ('taken', 'passed') and (e.data->>'$.personId') = a.person
                 or e.kind = 'lapsed' and not coalesce((e.data->>'$.taken')::boolean, false)
                   and list_contains(cast(e.data->'$.to' as varchar[]), a.person))
               order by e.seq limit 1) as how
           from asked a where a.leadId not in (select leadId from gone) and a.ts >= $from and a.ts < $to)
         select person, count(*) as n, count(*) filter (how = 'taken') as took, count(*) filter (how = 'passed') as passed,
           count(*) filter (how = 'lapsed') as lapsed from ended group by person`,
        given(span),
      );
      const { offers } = tell("response", { ...span, clock: "wall", until: "try", by: null, split: null });
      expect(new Map(offers.map((o) => [o.person, [o.asked, o.took.hits, o.passed, o.lapsed]]))).toEqual(
        new Map(asked.map((a) => [a.person, [a.n, a.took, a.passed, a.lapsed]])),
      );
      const sources = tell("sources", { ...span, by: "source", attribution: "first" });
      const came = await duck.rows(
        `select source, count(*) as leads, sum(inquiries)::bigint as inquiries from leads where came >= $from and came < $to group by source`,
        given(span),
      );
      expect(new Map(sources.groups.map((g) => [g.key, [g.leads, g.inquiries]]))).toEqual(
        new Map(came.map((c) => [c.source, [c.leads, c.inquiries]])),
      );
    }
  });
});

describe("erasing, over the demo's sixty days", () => {
  /** Each text an event carries, with the key it stands under; what stands in tables of the lead's own goes whole. */
  function* textsOf(value: unknown, key = "", kind = ""): Generator<{ key: string; kind: string }> {
    if (["own", "answers", "terms", "kinds"].includes(key)) return;
    if (typeof value === "string") yield { key, kind };
    else if (Array.isArray(value)) for (const one of value) yield* textsOf(one, key, kind);
    else if (value && typeof value === "object")
      for (const [inner, one] of Object.entries(value)) yield* textsOf(one, inner, kind);
  }

  it("leaves of each lead what figures are told from, and nothing that names anybody or that anybody wrote", () => {
    const words = companyWords(tarnholt);
    const unknown = new Set<string>();
    let named = 0;
    for (const { id } of sql.all(sql.q.selectFrom("leads").select("id"))) {
      const events = reader.events(id);
      for (const { data, kind } of events)
        for (const { key } of textsOf(data, "", kind)) if (!isKnownKey(key)) unknown.add(`${kind}: ${key}`);
      const clean = events.map((event) => erased(event, words));
      expect(accountOf(clean)).toEqual(accountOf(events));
      const lead = foldAll(clean)!;
      expect(lead).toMatchObject({ id, name: null, emails: [], phones: [], company: null });
      for (const event of clean) expect(entryOf(event).wrote?.(event.data)?.trim() || null).toBeNull();
      const left = JSON.stringify([clean, lead]).toLowerCase();
      const traces = tracesOf(events, []);
      named += traces.length;
      expect(traces.filter((trace) => left.includes(trace))).toEqual([]);
    }
    expect([...unknown]).toEqual([]);
    expect(named).toBeGreaterThan(2_000);
  });
});
