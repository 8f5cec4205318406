import { pino } from "pino";
import { take } from "../core/desk/hand-off.ts";
import type { Plan, World } from "../core/desk/plan.ts";
import { receive } from "../core/desk/receive.ts";
import { understand } from "../core/intake/understand.ts";
import type { Setup } from "../core/policy/setup.ts";
import { endOfDay } from "../core/time/defer.ts";
import { tarnholt } from "../demo/tarnholt.ts";
import { MovableClock } from "../server/clock.ts";
import { type Desk, openDesk } from "../server/desk.ts";
import { folderOf, percentile, report } from "./support.ts";

const BELLS = 100_000;
const BURST = 10_000;
const SLICE = 500;
const TICKS = 2_000_000;
const MINUTE = 60_000;
/** Wednesday, nine in the morning at the desk. */
const NINE = Date.parse("2026-03-04T16:00:00Z");

const nowhere = { deliver: async () => {}, close: async () => {} };

const open = (data: string, clock: MovableClock) =>
  openDesk({
    data,
    clock,
    setup: patient,
    channels: { email: nowhere, text: nowhere, chat: nowhere },
    url: "http://127.0.0.1",
    log: pino({ level: "silent" }),
  });

/** Cabins may wait for days here: most bells run on while the burst is drained. */
const patient: Setup = {
  ...tarnholt,
  policies: {
    ...tarnholt.policies,
    targets: [
      {
        id: "t_days",
        name: "Within a week",
        when: { field: "product", is: "equal", value: "cabin" },
        minutes: 2_400,
        clock: "desk",
        ladderId: "l_default",
      },
      ...tarnholt.policies.targets,
    ],
  },
};

const source = tarnholt.sources.find((s) => s.key === "plan-your-sauna")!;

/** One inquiry as it would come in by the website, taken at once so that only its bell runs on. */
function arrive(world: World, n: number, product: "barrel" | "cabin"): Plan {
  const phone = `${303 + Math.floor(n / 10_000)} 555 ${String(n % 10_000).padStart(4, "0")}`;
  const understood = understand(source, tarnholt.policies, { name: `Sender ${n}`, phone, product });
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

/** Let so many inquiries come in over an hour, and the last `BURST` of them in the same second. */
function fill(desk: Desk, clock: MovableClock): void {
  const people = tarnholt.people.filter((p) => p.role === "salesperson").map((p) => p.id);
  for (let n = 0; n < BELLS; n += SLICE)
    desk.sql.transaction(() => {
      for (let i = n; i < n + SLICE; i++) {
        const last = i >= BELLS - BURST;
        clock.hold(last ? NINE : NINE - 60 * MINUTE + i * 30);
        const plan = arrive(desk.look(null), i, last ? "barrel" : "cabin");
        desk.commitAll([plan]);
        const person = people[i % people.length]!;
        const taken = take(desk.look(plan.leadId), person);
        if (taken.ok) desk.commitAll([taken.plan]);
      }
    });
}

/** How many rungs have been climbed so far. */
function rungs(desk: Desk): number {
  const climbed = desk.sql.q
    .selectFrom("events")
    .select((eb) => eb.fn.countAll<number>().as("n"))
    .where("kind", "in", ["nudged", "rang", "stood-by", "climbed"]);
  return Number(desk.sql.get(climbed)?.n ?? 0);
}

/** What a tick costs while nothing is due (ns). */
function tickCost(desk: Desk): number {
  const begun = performance.now();
  for (let i = 0; i < TICKS; i++) desk.timers.tick();
  return ((performance.now() - begun) / TICKS) * 1e6;
}

/** A hundred thousand running bells: starting up, ticking, and a burst of ten thousand in the same second. */
export async function benchBells(): Promise<void> {
  const few = await open(await folderOf("bells-few"), new MovableClock(NINE, { frozen: true }));
  few.sql.transaction(() => few.commitAll([arrive(few.look(null), 1, "cabin")]));
  const fewTick = tickCost(few);
  await few.close();

  const folder = await folderOf("bells");
  const clock = new MovableClock(NINE - 60 * MINUTE, { frozen: true });
  const filling = await open(folder, clock);
  fill(filling, clock);
  await filling.close();

  const begun = performance.now();
  const desk = await open(folder, clock);
  const started = performance.now() - begun;
  clock.hold(NINE);
  const count = desk.sql.get(
    desk.sql.q
      .selectFrom("timers")
      .select((eb) => eb.fn.countAll<number>().as("n"))
      .where("kind", "=", "rung"),
  );
  // Whatever fell due before the burst is out of the way.
  clock.hold(NINE + 2 * MINUTE);
  while (desk.timers.nextDue <= clock.now()) desk.timers.runDue();
  const manyTick = tickCost(desk);

  const drain = (at: number) => {
    clock.hold(at);
    const before = rungs(desk);
    const reads: number[] = [];
    const batches: number[] = [];
    const since = performance.now();
    while (desk.timers.nextDue <= clock.now()) {
      const batch = performance.now();
      desk.timers.runDue();
      batches.push(performance.now() - batch);
      const read = performance.now();
      desk.reader.counts(endOfDay(clock.now(), tarnholt.policies.desk.zone));
      desk.reader.band("rung", 0, 60);
      reads.push(performance.now() - read);
    }
    const took = performance.now() - since - reads.reduce((a, b) => a + b, 0);
    const ran = rungs(desk) - before;
    return { ran, rate: Math.round((ran / took) * 1000), reads, batches };
  };
  const nudges = drain(NINE + 3 * MINUTE);
  const rings = drain(NINE + 5 * MINUTE);
  await desk.close();
  const said = ({ ran, rate }: ReturnType<typeof drain>) => `${ran} rungs at ${rate} a second`;
  report(`${BELLS} leads, ${count?.n} running bells`, [
    ["starting up", `${started.toFixed(0)} ms`],
    ["a tick with nothing due: one bell, all of them", `${fewTick.toFixed(0)} ns, ${manyTick.toFixed(0)} ns`],
    ["nudges due in one second (at least 2,000 a second)", said(nudges)],
    ["rings and managers told, due in one second", said(rings)],
    [
      "meanwhile: the longest a request waits, and the queue's own reading",
      `p95 ${percentile(rings.batches, 0.95).toFixed(0)} ms, ${percentile(rings.reads, 0.95).toFixed(1)} ms`,
    ],
  ]);
}
