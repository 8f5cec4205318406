import { pino } from "pino";
import { startCadence } from "../core/desk/cadence.ts";
import { take } from "../core/desk/hand-off.ts";
import type { Plan, World } from "../core/desk/plan.ts";
import { receive } from "../core/desk/receive.ts";
import { logTry } from "../core/desk/work.ts";
import { understand } from "../core/intake/understand.ts";
import type { Cadence, Touch } from "../core/policy/cadence.ts";
import { personOf, type Setup } from "../core/policy/setup.ts";
import { tarnholt } from "../demo/tarnholt.ts";
import { MovableClock } from "../server/clock.ts";
import { type Desk, openDesk } from "../server/desk.ts";
import { folderOf, percentile, report } from "./support.ts";

const LEADS = 100_000;
const BURST = 10_000;
const SLICE = 500;
const TICKS = 2_000_000;
const HOUR = 3_600_000;
/** Wednesday, nine in the morning at the desk. */
const NINE = Date.parse("2026-03-04T16:00:00Z");

const nowhere = { deliver: async () => {}, close: async () => {} };
const live = (id: string, touches: readonly Touch[]): Cadence => ({
  id,
  version: 1,
  live: {
    name: id,
    reason: "bench",
    touches,
    stops: ["reply"],
    enters: [],
    spreadMinutes: 0,
    precedence: 1,
    byHandHours: 0,
  },
  draft: null,
  publishedAt: 0,
  kept: [],
});
const email = (after: string): Touch => ({
  kind: "email",
  after,
  from: "before",
  subject: "Hello",
  body: "Hello {{ lead.first_name }}",
});
const setup: Setup = {
  ...tarnholt,
  policies: {
    ...tarnholt.policies,
    cadences: [
      live("months", [email("P3M"), email("P3M")]),
      live("hour", [email("PT1H"), email("P1D")]),
      live("many", [email("P1D")]),
    ],
  },
};

const open = (data: string, clock: MovableClock) =>
  openDesk({
    data,
    clock,
    setup,
    channels: { email: nowhere, text: nowhere, chat: nowhere },
    url: "http://127.0.0.1",
    log: pino({ level: "silent" }),
  });

const source = tarnholt.sources.find((s) => s.key === "plan-your-sauna")!;
const people = tarnholt.people.filter((p) => p.role === "salesperson").map((p) => p.id);

/** Somebody new by the website form. */
export function arrive(world: World, n: number): Plan {
  const phone = `${303 + Math.floor(n / 10_000)} 555 ${String(n % 10_000).padStart(4, "0")}`;
  const understood = understand(source, tarnholt.policies, {
    name: `Sender ${n}`,
    phone,
    email: `sender${n}@example.com`,
  });
  if (!understood.ok) throw new Error(understood.reason);
  const decided = receive(world, {
    inquiryId: `inq_${n}`,
    source,
    facts: understood.facts,
    matchedOn: null,
    by: { kind: "lead" },
    goesTo: { kind: "rules" },
    unanswered: "not here",
  });
  if (!decided.ok) throw new Error(decided.problem.detail);
  return decided.plan;
}

/** Leads of people who have tried them once; all but `BURST` are in a cadence of months. Gives the ids. */
function fill(desk: Desk, clock: MovableClock): string[] {
  const ids: string[] = [];
  const act = (decide: (w: World) => ReturnType<typeof take>, id: string) => {
    const decided = decide(desk.look(id));
    if (decided.ok) desk.commitAll([decided.plan]);
  };
  for (let n = 0; n < LEADS; n += SLICE)
    desk.sql.transaction(() => {
      for (let i = n; i < n + SLICE; i++) {
        clock.hold(NINE - 3 * HOUR + i * 20);
        const plan = arrive(desk.look(null), i);
        desk.commitAll([plan]);
        const person = people[i % people.length]!;
        act((w) => take(w, person), plan.leadId);
        act((w) => logTry(w, { personId: person, channel: "call", outcome: "voicemail" }), plan.leadId);
        if (i < LEADS - BURST) act((w) => startCadence(w, person, { cadenceId: "months" }), plan.leadId);
        ids.push(plan.leadId);
      }
    });
  return ids;
}

function tickCost(desk: Desk): number {
  const begun = performance.now();
  for (let i = 0; i < TICKS; i++) desk.timers.tick();
  return ((performance.now() - begun) / TICKS) * 1e6;
}

/** How far the beginnings lie from even (Kolmogorov–Smirnov), of times in [from, from + window). */
function distance(times: readonly number[], from: number, window: number): number {
  const places = times.map((t) => (t - from) / window).sort((a, b) => a - b);
  return Math.max(
    ...places.map((p, i) => Math.max(Math.abs((i + 1) / places.length - p), Math.abs(p - i / places.length))),
  );
}

/** Many leads in cadences: beginning ten thousand, ten thousand due in one second, idle ticks, and the next lead of the rounds. */
export async function benchCadences(): Promise<void> {
  const few = await open(await folderOf("cadences-few"), new MovableClock(NINE, { frozen: true }));
  few.sql.transaction(() => few.commitAll([arrive(few.look(null), 1)]));
  const fewTick = tickCost(few);
  await few.close();

  const clock = new MovableClock(NINE, { frozen: true });
  const desk = await open(await folderOf("cadences"), clock);
  const ids = fill(desk, clock);
  clock.hold(NINE);
  while (desk.timers.nextDue <= clock.now()) desk.timers.runDue();
  const manyTick = tickCost(desk);
  const burst = ids.slice(-BURST);

  // Beginning, two hours of spread, with somebody looking at the queue meanwhile.
  const waits: number[] = [];
  let asked = performance.now();
  const looking = setInterval(() => {
    waits.push(performance.now() - asked - 5);
    asked = performance.now();
  }, 5);
  const begun = performance.now();
  const wish = { cadenceId: "many", ids: burst, spreadMinutes: 120 };
  const who = await desk.cadences.whoStarts(wish);
  if ("problem" in who) throw new Error(who.problem.detail);
  const job = desk.cadences.startMany(wish, who.will, "p_ines");
  while (job.state === "running") await new Promise((resolve) => setImmediate(resolve));
  const starting = performance.now() - begun;
  clearInterval(looking);
  const rows = desk.sql.all(
    desk.sql.q.selectFrom("cadenceLeads").select("at").where("cadenceId", "=", "many"),
  );
  const apart = distance(
    rows.map((r) => r.at!),
    clock.now() + 24 * HOUR,
    2 * HOUR,
  );

  desk.sql.transaction(() => {
    for (const id of burst) {
      const decided = startCadence(desk.look(id), "p_ines", { cadenceId: "hour" });
      if (decided.ok) desk.commitAll([decided.plan]);
    }
  });
  desk.timers.refresh();
  clock.hold(NINE + HOUR);
  const sent = () =>
    Number(
      desk.sql.get(
        desk.sql.q
          .selectFrom("outbox")
          .select((eb) => eb.fn.countAll<number>().as("n"))
          .where("purpose", "=", "cadence"),
      )?.n ?? 0,
    );
  const batches: number[] = [];
  const since = performance.now();
  while (desk.timers.nextDue <= clock.now()) {
    const batch = performance.now();
    desk.timers.runDue();
    batches.push(performance.now() - batch);
  }
  const took = performance.now() - since;

  // A week on, what was tried is due again.
  clock.hold(NINE + 150 * HOUR);
  const person = personOf(setup, people[0]!)!;
  const coordinator = personOf(setup, "p_ines")!;
  const next = (who: typeof person, all: boolean) => {
    const samples: number[] = [];
    for (let i = 0; i < 60; i++) {
      const from = performance.now();
      const { items } = desk.rounds.of(who, all);
      const item = items.find((it) => it.with === null)!;
      desk.rounds.begin(item.lead.id, who.id);
      desk.reader.events(item.lead.id);
      samples.push(performance.now() - from);
      const logged = logTry(desk.look(item.lead.id), {
        personId: who.id,
        channel: "call",
        outcome: "voicemail",
      });
      if (logged.ok) desk.sql.transaction(() => desk.commitAll([logged.plan]));
    }
    return percentile(samples, 0.95);
  };
  const rounds = [next(coordinator, true), next(person, false)] as const;
  const figures = performance.now();
  desk.cadences.figures("months");
  const counted = performance.now() - figures;
  const messages = sent();
  await desk.close();
  report(`${LEADS} leads, ${LEADS - BURST} of them in a cadence of months`, [
    ["a tick with nothing due: one lead, all of them", `${fewTick.toFixed(0)} ns, ${manyTick.toFixed(0)} ns`],
    [
      `beginning ${BURST} in one act (under 10 s)`,
      `${(starting / 1000).toFixed(1)} s; another request waits ${percentile(waits, 0.95).toFixed(0)} ms at p95`,
    ],
    [
      "their spread: Kolmogorov–Smirnov distance",
      `${apart.toFixed(4)}, critical ${(1.36 / Math.sqrt(BURST)).toFixed(4)}`,
    ],
    [
      "touches due in one second (at least 2,000 a second)",
      `${messages} messages at ${Math.round((messages / took) * 1000)} a second, p95 of a stretch ${percentile(batches, 0.95).toFixed(0)} ms`,
    ],
    [
      "the next lead of the rounds, p95: all of the desk, one’s own",
      `${rounds[0].toFixed(0)} ms, ${rounds[1].toFixed(0)} ms`,
    ],
    ["figures of a cadence with so many in it", `${counted.toFixed(0)} ms`],
  ]);
}
