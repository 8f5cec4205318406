import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import pino from "pino";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { startCadence } from "../../core/desk/cadence.ts";
import { take } from "../../core/desk/hand-off.ts";
import { hearFrom } from "../../core/desk/hear.ts";
import { logTry } from "../../core/desk/work.ts";
import type { Cadence, Touch } from "../../core/policy/cadence.ts";
import type { Setup } from "../../core/policy/setup.ts";
import { draftCadence } from "../../core/setup/change-cadences.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { killAt } from "../../tests/support/killed.ts";
import type { OutChannel, Parcel } from "../channels/channel.ts";
import { MovableClock } from "../clock.ts";
import { type Desk, openDesk } from "../desk.ts";
import { verify } from "../verify-desk.ts";

/** Cadences on a desk that keeps: what leaves, what is called back, what a kill leaves behind. */

const START = Date.parse("2026-03-04T17:00:00Z");
const MIN = 60_000;
const HOUR = 60 * MIN;
const DAY = 24 * HOUR;
const site = tarnholt.sources.find((s) => s.key === "plan-your-sauna")!;

const email = (after: string): Touch => ({
  kind: "email",
  after,
  from: "before",
  subject: `After ${after}`,
  body: "Hello",
});
const live = (id: string, touches: readonly Touch[]): Cadence => ({
  id,
  version: 1,
  live: {
    name: id,
    reason: "a test",
    touches,
    stops: ["reply", "reached"],
    enters: [],
    spreadMinutes: 0,
    precedence: 1,
    byHandHours: 0,
  },
  draft: null,
  publishedAt: 0,
  kept: [],
});
const withCadences = (cadences: readonly Cadence[], perLineMinute = {}): Setup => ({
  ...tarnholt,
  policies: {
    ...tarnholt.policies,
    cadences,
    targets: [],
    restraint: { ...tarnholt.policies.restraint, perDay: 9, perLineMinute },
  },
});

let folder: string;
let clock: MovableClock;
let desk: Desk;
let delivered: { at: number; subject: string | null }[];
/** While it holds, nothing leaves: the mail server says nothing. */
let holds: Promise<void> | null;
let copies = 0;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "kite-bell-cadences-"));
  clock = new MovableClock(START, { frozen: true });
  delivered = [];
  holds = null;
});
afterEach(async () => {
  expect(verify(desk.sql).faults).toEqual([]);
  await desk.close();
  rmSync(folder, { recursive: true, force: true });
});

async function open(setup: Setup, data = folder): Promise<Desk> {
  const deliver = async ({ subject }: Parcel) => {
    await holds;
    delivered.push({ at: clock.now(), subject: subject ?? null });
  };
  const channel: OutChannel = { deliver, close: async () => {} };
  const channels = { email: channel, text: channel, chat: channel };
  return openDesk({
    data,
    clock,
    setup,
    channels,
    url: "https://desk.example",
    log: pino({ level: "silent" }),
    durable: false,
  });
}

/** A lead of Mara’s. */
async function lead(n: number): Promise<string> {
  const fields = {
    name: `Sender ${n}`,
    email: `sender${n}@example.com`,
    phone: `303555${2000 + n}`,
    submission_id: `s${n}`,
  };
  const { leadId } = await desk.intake.submit(site, {
    contentType: "application/json",
    headers: {},
    raw: Buffer.from(JSON.stringify(fields)),
  });
  desk.act(leadId!, (w) => take(w, "p_mara"));
  return leadId!;
}
const begin = (id: string, cadenceId = "c") => {
  const result = desk.act(id, (w) => startCadence(w, "p_mara", { cadenceId }));
  if (!result.ok) throw new Error(result.problem.detail);
};
const wrote = (id: string) =>
  desk.act(id, (w) =>
    hearFrom(w, { channel: "text", from: desk.looker.lead(id)!.phones[0]!, subject: null, body: "Yes?" }),
  );

function advance(ms: number, dead = () => false): void {
  const until = clock.now() + ms;
  while (!dead() && desk.timers.nextDue <= until) {
    clock.hold(Math.max(clock.now(), desk.timers.nextDue));
    desk.timers.runDue();
  }
  if (!dead()) clock.hold(until);
}
const ofCadences = (from: Desk = desk) =>
  from.sql.all(
    from.sql.q
      .selectFrom("outbox")
      .select(["key", "state", "createdAt", "nextAt"])
      .where("purpose", "=", "cadence")
      .orderBy("createdAt"),
  );

describe("a message that waits in the outbox", () => {
  it("is called back by a reply; one that is leaving at that moment is let go, and the reply is taken all the same", async () => {
    desk = await open(withCadences([live("c", [email("PT0M"), email("P1D")])]));
    const waiting = await lead(1);
    begin(waiting);
    advance(0);
    wrote(waiting);
    expect(ofCadences().map((m) => m.state)).toEqual(["withdrawn"]);

    const leaving = await lead(2);
    let letGo = () => {};
    holds = new Promise((resolve) => {
      letGo = resolve;
    });
    desk.outbox.start();
    begin(leaving);
    advance(0);
    const id = desk.looker.lead(leaving)!.cadences[0]!.messageId!;
    await expect.poll(() => desk.outbox.isLeaving(id)).toBe(true);
    expect(wrote(leaving).ok).toBe(true);
    letGo();
    await desk.outbox.drained();
    expect(desk.looker.lead(leaving)).toMatchObject({
      cadences: [{ state: "stopped" }],
      replyWaiting: clock.now(),
    });
    expect(delivered.filter((d) => d.subject === "After PT0M")).toHaveLength(1);
    advance(3 * DAY);
    expect(ofCadences()).toHaveLength(2);
  });
});

describe("what a line carries within a minute", () => {
  it("is kept to, in order, also after a restart; nothing is lost", async () => {
    const setup = withCadences([live("c", [email("PT1H")])], { email: 3 });
    desk = await open(setup);
    for (let n = 1; n <= 8; n++) begin(await lead(n));
    desk.outbox.start();
    advance(HOUR);
    await desk.outbox.drained();
    const gone = () =>
      delivered.filter((d) => d.subject === "After PT1H").map((d) => (d.at - START - HOUR) / MIN);
    expect(gone()).toEqual([0, 0, 0]);
    await desk.close();
    // Another process knows what the line has carried lately.
    desk = await open(setup);
    desk.outbox.start();
    for (const minute of [0.5, 0.5, 1]) {
      advance(minute * MIN);
      desk.outbox.kick();
      await desk.outbox.drained();
    }
    expect(gone()).toEqual([0, 0, 0, 1, 1, 1, 2, 2]);
  });
});

describe("killed between any two writes and started again", () => {
  it("the same messages go at the same times, and the same calls are set", async () => {
    const setup = withCadences([
      live("c", [
        email("PT10M"),
        { kind: "call", after: "PT30M", from: "before", waitHours: 2 },
        email("PT20M"),
        email("P1D"),
      ]),
    ]);
    const course = (of: Desk) =>
      of.sql
        .all(of.sql.q.selectFrom("events").select(["kind", "at", "dataJson"]).orderBy("at").orderBy("n"))
        .filter((e) => e.kind === "cadence-touched" || e.kind === "next-step")
        .map((e) => `${(e.at - START) / MIN} ${e.kind} ${JSON.parse(e.dataJson).n ?? ""}`)
        .sort();
    const plain = async (killed: () => Promise<boolean>, dead: () => boolean) => {
      const steps = [30, 200, 3 * 24 * 60].map((minutes) => minutes * MIN);
      for (const step of steps) {
        const until = clock.now() + step;
        for (;;) {
          let failed: unknown = null;
          try {
            advance(until - clock.now(), dead);
          } catch (error) {
            failed = error;
          }
          if (await killed()) continue;
          if (failed) throw failed;
          break;
        }
      }
    };
    const fresh = async () => {
      clock.hold(START);
      desk = await open(setup, join(folder, `desk-${++copies}`));
      for (let n = 1; n <= 3; n++) begin(await lead(n));
    };
    await fresh();
    await plain(
      async () => false,
      () => false,
    );
    const expected = course(desk);
    expect(ofCadences()).toHaveLength(9);
    await desk.close();
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.integer({ min: 1, max: 90 }), { minLength: 1, maxLength: 3 }),
        async (points) => {
          await fresh();
          const left: Desk[] = [];
          const rest = [...points];
          const next = () =>
            killAt(
              rest.shift() ?? Number.POSITIVE_INFINITY,
              () => desk.sql.path,
              () => join(folder, `copy-${++copies}`),
            );
          let killer = next();
          try {
            await plain(
              async () => {
                const copy = killer.copy();
                if (!copy) return false;
                killer.stop();
                left.push(desk);
                desk = await open(setup, copy);
                killer = next();
                return true;
              },
              () => killer.copy() !== null,
            );
          } finally {
            killer.stop();
            for (const gone of left) await gone.close();
          }
          expect(course(desk)).toEqual(expected);
          expect(ofCadences()).toHaveLength(9);
          expect(verify(desk.sql).faults).toEqual([]);
          await desk.close();
        },
      ),
      { numRuns: 6 },
    );
    desk = await open(setup, join(folder, "last"));
  });
});

describe("versions", () => {
  it("somebody in an earlier one is counted there, keeps it, and is moved where nothing before has changed", async () => {
    desk = await open(withCadences([live("c", [email("P1D"), email("P1D")])]));
    const id = await lead(1);
    begin(id);
    advance(DAY);
    const plan = desk.setup.policies.cadences[0]!.live!;
    const change = (touches: readonly Touch[]) => {
      desk.office.change("p_oskar", (setup) => draftCadence(setup, "c", { ...plan, touches }));
      expect(desk.cadences.publish("c", "p_oskar").ok).toBe(true);
    };
    change([email("P2D"), email("P1D")]);
    expect(desk.cadences.upgradable("c")).toEqual([]);
    change([email("P1D"), email("P3D")]);
    expect(desk.setup.policies.cadences[0]!.kept.map((k) => k.version)).toEqual([1]);
    expect(desk.cadences.standing()).toMatchObject([{ cadenceId: "c", version: 1, n: 1, leads: 1 }]);
    expect(desk.cadences.remove("c", "p_oskar").ok).toBe(false);
    expect(desk.cadences.upgrade("c")).toBe(1);
    expect(desk.cadences.standing()).toMatchObject([{ version: 3, n: 1, leads: 1 }]);
    desk.act(id, (w) => logTry(w, { personId: "p_mara", channel: "call", outcome: "reached" }));
    expect(desk.cadences.standing()).toEqual([]);
    expect(desk.cadences.remove("c", "p_oskar").ok).toBe(true);
  });
});

describe("a call that rings on its own", () => {
  it("is asked for with its touch, for whoever places calls", async () => {
    desk = await open(
      withCadences([live("c", [{ kind: "call", after: "PT5M", from: "before", ring: true }])]),
    );
    const rung: string[] = [];
    desk.onPlan(({ leadId, events }) => {
      if (events.some((e) => e.kind === "cadence-touched" && e.data.ring)) rung.push(leadId);
    });
    const id = await lead(1);
    begin(id);
    advance(5 * MIN);
    expect(rung).toEqual([id]);
  });
});
