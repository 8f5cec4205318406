import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import pino from "pino";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { take } from "../../core/desk/hand-off.ts";
import { park } from "../../core/desk/park.ts";
import { logTry } from "../../core/desk/work.ts";
import type { Setup } from "../../core/policy/setup.ts";
import { closedFrom } from "../../core/setup/change-bells.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { killAt } from "../../tests/support/killed.ts";
import type { OutChannel, Parcel } from "../channels/channel.ts";
import { MovableClock } from "../clock.ts";
import { type Desk, openDesk } from "../desk.ts";
import { verify } from "../verify-desk.ts";
import { troublesOf } from "./troubles.ts";

const START = Date.parse("2026-03-04T16:00:00Z");
const MIN = 60_000;
const HOUR = 60 * MIN;
const site = tarnholt.sources.find((s) => s.key === "plan-your-sauna")!;

let folder: string;
let clock: MovableClock;
let desk: Desk;
let delivered: Parcel[];
let copies = 0;
/** Whether the process the desk stands for has been killed: then nothing more happens in it. */
let dead = () => false;
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), "kite-bell-bells-"));
  clock = new MovableClock(START, { frozen: true });
  delivered = [];
  desk = await open(folder);
});
afterEach(async () => {
  expect(verify(desk.sql).faults).toEqual([]);
  await desk.close();
  rmSync(folder, { recursive: true, force: true });
});

async function open(data: string, setup: Setup = tarnholt): Promise<Desk> {
  const channel: OutChannel = { deliver: async (p) => void delivered.push(p), close: async () => {} };
  const channels = { email: channel, text: channel, chat: channel };
  const log = pino({ level: "silent" });
  return openDesk({ data, clock, setup, channels, url: "https://desk.example", log, durable: false });
}

const submit = (n: number) =>
  desk.intake.submit(site, {
    contentType: "application/json",
    headers: {},
    raw: Buffer.from(
      JSON.stringify({
        name: `Sender ${n}`,
        phone: `303555${2000 + n}`,
        product: "barrel",
        submission_id: `s${n}`,
      }),
    ),
  });

/** Move time on, running what falls due at its own moment. */
function advance(ms: number): void {
  const until = clock.now() + ms;
  while (!dead() && desk.timers.nextDue <= until) {
    clock.hold(Math.max(clock.now(), desk.timers.nextDue));
    desk.timers.runDue();
  }
  if (!dead()) clock.hold(until);
}

/** Every rung of every lead, by name: `Sender 1 09:05 ring`. */
function climbed(): string[] {
  const usual = { nudged: "nudge", rang: "ring", "stood-by": "standby" } as const;
  return desk.reader
    .leads({ limit: 100 })
    .items.flatMap((lead) =>
      desk.reader.events(lead.id).flatMap((e) => {
        const what =
          e.kind === "climbed"
            ? `${e.data.bell} ${e.data.act}${e.data.skipped ? " left out" : ""}`
            : e.kind in usual
              ? usual[e.kind as keyof typeof usual]
              : null;
        return what ? [`${lead.name} ${(e.at - START) / MIN} ${what}`] : [];
      }),
    )
    .sort();
}

type Step =
  | { readonly do: "arrive" }
  | { readonly do: "wait"; readonly minutes: number }
  | { readonly do: "take" | "try"; readonly which: number };

/** Runs steps; a step that was cut off by a kill is done once more by whoever wanted it, as a sender or a person does. */
async function perform(steps: readonly Step[], killed: () => Promise<boolean>): Promise<void> {
  let sent = 0;
  for (const step of steps) {
    if (step.do === "arrive") sent++;
    const until = clock.now() + (step.do === "wait" ? step.minutes * MIN : 0);
    for (;;) {
      let failed: unknown = null;
      try {
        await once(step, sent, until);
      } catch (error) {
        failed = error ?? new Error("nothing was said");
      }
      if (await killed()) continue;
      // Only a kill may cut a step off: whatever else was thrown is a fault.
      if (failed) throw failed;
      break;
    }
  }
}

async function once(step: Step, sent: number, until: number): Promise<void> {
  if (step.do === "arrive") return void (await submit(sent));
  if (step.do === "wait") return advance(until - clock.now());
  const leads = desk.reader
    .leads({ limit: 100, sort: "created" })
    .items.map((l) => l.name)
    .sort();
  const name = leads[step.which % Math.max(1, leads.length)];
  const lead = desk.reader.leads({ limit: 100 }).items.find((l) => l.name === name);
  if (!lead) return;
  if (step.do === "take") desk.act(lead.id, (w) => take(w, lead.handOff?.to[0] ?? "p_mara"));
  else if (lead.tries === 0)
    desk.act(lead.id, (w) => logTry(w, { personId: "p_mara", channel: "call", outcome: "voicemail" }));
}

const dies = (write: number) =>
  killAt(
    write,
    () => desk.sql.path,
    () => join(folder, `copy-${++copies}`),
  );

describe("killed between any two writes and started again", () => {
  const step: fc.Arbitrary<Step> = fc.oneof(
    fc.record({ do: fc.constant("arrive" as const) }),
    fc.record({ do: fc.constant("wait" as const), minutes: fc.integer({ min: 1, max: 40 }) }),
    fc.record({ do: fc.constantFrom("take" as const, "try" as const), which: fc.nat({ max: 3 }) }),
  );
  it("each rung happens exactly once, at the moment it would have without", async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(step, { minLength: 3, maxLength: 10 }),
        fc.array(fc.integer({ min: 1, max: 120 }), { minLength: 1, maxLength: 3 }),
        async (steps, kills) => {
          const plain = [
            { do: "arrive" as const },
            ...steps,
            { do: "arrive" as const },
            { do: "wait" as const, minutes: 300 },
          ];
          const begin = async () => {
            await desk.close();
            clock.hold(START);
            const data = join(folder, `desk-${++copies}`);
            desk = await open(data);
          };
          await begin();
          await perform(plain, async () => false);
          const expected = climbed();
          expect(expected.length).toBeGreaterThan(0);

          await begin();
          const points = [...kills];
          const left: Desk[] = [];
          let killer = dies(points.shift()!);
          dead = () => killer.copy() !== null;
          try {
            await perform(plain, async () => {
              const copy = killer.copy();
              if (!copy) return false;
              killer.stop();
              left.push(desk);
              desk = await open(copy);
              killer = dies(points.shift() ?? Number.POSITIVE_INFINITY);
              return true;
            });
          } finally {
            killer.stop();
            dead = () => false;
            for (const gone of left) await gone.close();
          }
          expect(climbed()).toEqual(expected);
          expect(verify(desk.sql).faults).toEqual([]);
        },
      ),
      { numRuns: 12 },
    );
  });
});

describe("a sweep", () => {
  it("moves every running bell at once when the desk closes early, and goes on where it was cut off", async () => {
    for (let n = 1; n <= 3; n++) await submit(n);
    clock.hold(START + MIN);
    desk.changeSetup(closedFrom(tarnholt, "2026-03-04", "09:02", "Snow day"));
    expect(await desk.sweep.settled()).toBe(3);
    const due = () => desk.reader.leads({ limit: 10 }).items.map((l) => (l.bell!.dueAt - START) / HOUR);
    // Two minutes were left of five: tomorrow at 8:03.
    expect(due()).toEqual([23.05, 23.05, 23.05]);
    expect(desk.kept.counter("sweep-reckon")).toBe(0);

    // The same change, but the desk is switched off before anything was swept.
    desk.sql.transaction(() => desk.kept.setCounter("sweep-reckon", 1));
    const { policies } = desk.setup;
    desk.looker.setup = { ...desk.setup, policies: { ...policies, desk: tarnholt.policies.desk } };
    expect(await desk.sweep.run()).toBe(3);
    expect(due()).toEqual([5 / 60, 5 / 60, 5 / 60]);
  });
});

describe("a sweep that is cut short", () => {
  it("is done again for a change made meanwhile, and stays owed when it fails", async () => {
    await submit(1);
    desk.sweep.owe("reckon");
    const running = desk.sweep.run();
    // Owed once more while the first still runs.
    await Promise.resolve();
    desk.sweep.owe("reckon");
    await running;
    expect(desk.kept.counter("sweep-reckon")).toBe(2);
    await desk.sweep.run();
    expect(desk.kept.counter("sweep-reckon")).toBe(0);

    const { policies } = tarnholt;
    desk.looker.setup = {
      ...tarnholt,
      // A desk that never opens: no bell can be reckoned.
      policies: { ...policies, desk: { ...policies.desk, week: {}, exceptions: {} } },
    };
    desk.sweep.owe("reckon");
    expect(await desk.sweep.run()).toBe(0);
    expect(desk.kept.counter("sweep-reckon")).toBe(1);
    desk.looker.setup = tarnholt;
    await desk.sweep.run();
    expect(desk.kept.counter("sweep-reckon")).toBe(0);
  });
});

describe("the morning summary", () => {
  const morning = () => delivered.filter((p) => p.purpose === "morning");
  it("reaches every manager as the desk opens, once a day, whatever is restarted", async () => {
    await submit(1);
    advance(6 * MIN);
    expect(new Date(desk.morning.nextDue).toISOString()).toBe("2026-03-05T15:00:00.000Z");
    clock.hold(desk.morning.nextDue);
    desk.morning.run();
    desk.outbox.start();
    await desk.outbox.drained();
    expect(morning().map((p) => p.toAddress)).toEqual(["greta@tarnholt.example"]);
    expect(morning()[0]?.subject).toBe("Thursday morning at the lead desk");
    expect(morning()[0]?.body).toContain("1 lead rang; 1 is not tried yet.");
    await desk.close();
    desk = await open(folder);
    expect(new Date(desk.morning.nextDue).toISOString()).toBe("2026-03-06T15:00:00.000Z");
  });
  it("is made up for when the desk was off as it should have gone, and not sent when switched off", async () => {
    await desk.close();
    clock.hold(START + 25 * HOUR);
    desk = await open(folder);
    expect(desk.morning.nextDue).toBe(clock.now());
    const { policies } = tarnholt;
    desk.changeSetup({ ...tarnholt, policies: { ...policies, morning: { on: false, ways: ["email"] } } });
    expect(desk.morning.nextDue).toBe(Number.POSITIVE_INFINITY);
  });
});

describe("the line on top", () => {
  const said = () => troublesOf(desk).flatMap((t) => (t.said?.includes("gone quiet") ? [] : [t.said]));
  it("says when nobody is on duty while leads wait, and when bells are behind", async () => {
    expect(said()).toEqual([]);
    await submit(1);
    for (const { id } of tarnholt.people) desk.office.setDuty(id, true, "p_greta");
    expect(said()).toEqual(["Nobody who sells is on duty, and 1 lead waits for an answer."]);
    clock.hold(desk.timers.nextDue + 11_000);
    expect(said()[0]).toBe(
      "Bells are 11 s behind. They are being caught up with, in order; each rings once.",
    );
  });
});

describe("a visit to the company’s own site", () => {
  it("is a signal of whoever came by a link of ours, once in half an hour, and of nobody else", async () => {
    const { leadId } = await submit(1);
    desk.act(leadId!, (w) => park(w, "p_ines", "Next spring", null));
    const page = "https://www.tarnholt.example/barrel?utm=x";
    const visits = () => desk.reader.events(leadId!).filter((e) => e.kind === "visited");
    expect(desk.opened.visit(`${leadId}.forged`, page)).toBe(false);
    const name = desk.links.visitor(leadId!);
    expect(desk.opened.visit(name, "https://elsewhere.example/")).toBe(false);
    expect(desk.opened.visit(name, page)).toBe(true);
    expect(desk.opened.visit(name, page)).toBe(true);
    expect(visits().map((e) => e.kind === "visited" && e.data.url)).toEqual(["www.tarnholt.example/barrel"]);
    clock.hold(clock.now() + 31 * MIN);
    desk.opened.visit(name, page);
    expect(visits()).toHaveLength(2);
    expect(desk.reader.wakings(0).map((w) => w.data.signal)).toEqual(["visit"]);
  });
});
