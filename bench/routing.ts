import { join } from "node:path";
import { take } from "../core/desk/hand-off.ts";
import { MemoryDesk } from "../core/desk/memory.ts";
import { receive } from "../core/desk/receive.ts";
import { understand } from "../core/intake/understand.ts";
import type { LeadEvent } from "../core/lead/events.ts";
import { Playback, TELL_NOTHING } from "../core/playback/playback.ts";
import type { RecordedAct } from "../core/playback/record.ts";
import type { Rule } from "../core/policy/routing.ts";
import type { Setup } from "../core/policy/setup.ts";
import { route } from "../core/routing/route.ts";
import { makeHistory } from "../demo/history.ts";
import { tarnholt } from "../demo/tarnholt.ts";
import { Sql } from "../server/db/sql.ts";
import { runPlayback } from "../server/playback/record.ts";
import { folderOf, percentile, report } from "./support.ts";

const RULES = 50;
const INQUIRIES = 100_000;
const DECISIONS = 20_000;
const NINE = Date.parse("2026-03-04T16:00:00Z");

/** Fifty rules with conditions of three questions; only the last fits everybody, so most leads ask all of them. */
function manyRules(): Rule[] {
  const rules: Rule[] = Array.from({ length: RULES - 1 }, (_, i) => ({
    id: `r${i}`,
    name: `Rule ${i}`,
    when: {
      all: [
        { field: "territory", is: "one-of", value: ["lakes", "cascades", "northeast"] },
        {
          any: [
            { field: "message", is: "contains", value: `word${i}` },
            { field: "value", is: "at-least", value: 100_000 + i },
          ],
        },
        { none: [{ field: "time-of-day", is: "between", value: ["20:00", "07:00"] }] },
      ],
    },
    to: { group: "g_lodges" },
    offerMinutes: 3,
  }));
  return [...rules, { id: "all", name: "All", when: null, to: { group: "g_homes" }, offerMinutes: 2 }];
}

/** How long one decision among fifty rules takes, and a playback of a hundred thousand inquiries. */
export async function benchRouting(): Promise<void> {
  const setup: Setup = { ...tarnholt, policies: { ...tarnholt.policies, rules: manyRules() } };
  const desk = new MemoryDesk(setup, NINE);
  const source = tarnholt.sources[0]!;
  const arrive = (i: number) => {
    const understood = understand(source, setup.policies, {
      name: `Lead ${i}`,
      phone: `303${String(2_000_000 + i)}`,
      postal_code: ["53703", "98101", "04101"][i % 3]!,
      message: "A barrel for the garden, please",
    });
    if (!understood.ok) throw new Error(understood.reason);
    const decided = receive(desk.look(null), {
      inquiryId: `i${i}`,
      source,
      facts: understood.facts,
      matchedOn: null,
      by: { kind: "lead" },
      goesTo: { kind: "rules" },
    });
    if (!decided.ok) throw new Error(decided.problem.detail);
    return decided.plan;
  };
  const { after } = arrive(0);
  const lead = { ...after, handOff: null };
  const times: number[] = [];
  for (let i = 0; i < DECISIONS; i++) {
    const begun = performance.now();
    route(desk.look(null), lead);
    times.push((performance.now() - begun) * 1_000);
  }
  times.splice(0, 2_000);
  report("one decision among 50 rules, with its trace", [
    ["median", `${percentile(times, 0.5).toFixed(0)} µs`],
    ["p99", `${percentile(times, 0.99).toFixed(0)} µs (wanted: 200)`],
  ]);

  // A record as the engine writes it: each inquiry offered and taken, at all hours of a year.
  const acts: RecordedAct[] = [];
  for (let i = 1; i <= INQUIRIES; i++) {
    desk.now = NINE + i * 300_000;
    const plan = arrive(i);
    desk.commit({ ok: true, plan });
    acts.push(actOf(plan.leadId, desk.now, plan.events));
    const to = plan.after.handOff?.to[0];
    if (to) {
      const taken = take(desk.look(plan.leadId), to);
      if (taken.ok) acts.push(actOf(plan.leadId, desk.now + 1, taken.plan.events));
    }
    // What is done with is let go, as a desk's memory would.
    desk.leads.clear();
    desk.events.clear();
    desk.timers.clear();
    desk.messages.length = 0;
    desk.alerts.length = 0;
  }
  const begun = performance.now();
  const playback = new Playback({
    rules: { rules: setup.policies.rules, setAside: setup.policies.setAside },
    from: 0,
    to: Number.MAX_SAFE_INTEGER,
    setupAt: () => setup,
  });
  for (const act of acts) playback.feed(act);
  const seconds = (performance.now() - begun) / 1_000;
  const { inquiries, changed } = playback.tally.result();

  const folder = await folderOf("routing");
  const history = await makeHistory(folder);
  const path = join(folder, "kite-bell.db");
  const sql = await Sql.open(path);
  const events = Number(
    sql.get(sql.q.selectFrom("events").select((eb) => eb.fn.countAll<number>().as("n")))?.n,
  );
  sql.close();
  const started = performance.now();
  const { rules, setAside } = tarnholt.policies;
  await runPlayback({ path, rules: { rules, setAside }, from: 0, to: Date.now(), roster: "then" }, () => {});
  const read = (performance.now() - started) / 1_000;
  report("playback", [
    [
      `${inquiries} inquiries through ${RULES} rules`,
      `${seconds.toFixed(1)} s (wanted: under 10), ${changed} changed`,
    ],
    [`the demo's ${history.inquiries} inquiries from disk, ${events} events`, `${read.toFixed(2)} s`],
    [
      "which for 100,000 inquiries on disk comes to",
      `${((read / history.inquiries) * INQUIRIES).toFixed(0)} s`,
    ],
  ]);
}

function actOf(leadId: string, at: number, events: readonly LeadEvent[]): RecordedAct {
  return { leadId, at, events: events.filter((e) => !TELL_NOTHING.includes(e.kind)) };
}
