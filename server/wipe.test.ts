import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { take } from "../core/desk/hand-off.ts";
import { personOf } from "../core/policy/setup.ts";
import { tarnholt } from "../demo/tarnholt.ts";
import { testDesk } from "../tests/support/desk.ts";
import { DAY, HOUR, MIN } from "../tests/support/memory.ts";
import type { OutChannel, Parcel } from "./channels/channel.ts";
import { MovableClock } from "./clock.ts";
import type { Desk } from "./desk.ts";
import { testRun } from "./source/test-run.ts";
import { verify } from "./verify-desk.ts";

const site = tarnholt.sources.find((s) => s.key === "plan-your-sauna")!;
const ines = personOf(tarnholt, "p_ines")!;

let clock: MovableClock;
let desk: Desk;
let delivered: Parcel[];

beforeEach(async () => {
  clock = new MovableClock(Date.parse("2026-03-04T16:00:00Z"), { frozen: true });
  delivered = [];
  const channel: OutChannel = {
    deliver: async (parcel) => void delivered.push(parcel),
    close: async () => {},
  };
  desk = await testDesk({ clock, channels: { email: channel, text: channel, chat: channel } });
  desk.outbox.start();
});
afterEach(async () => {
  expect(verify(desk.sql).faults).toEqual([]);
  await desk.close();
});

const sample = {
  name: "Sample Person",
  email: "real@customer.example",
  phone: "303 555 0123",
  product: "barrel",
};
const test = async (byRules: boolean) =>
  (await testRun(desk, site, sample, undefined, ines, byRules)).leadId!;
const pass = async (ms: number) => {
  const until = clock.now() + ms;
  while (desk.timers.nextDue <= until) {
    clock.hold(Math.max(clock.now(), desk.timers.nextDue));
    desk.timers.runDue();
    await desk.outbox.drained();
  }
  clock.hold(until);
  await desk.outbox.drained();
};
const left = (table: "leads" | "events" | "outbox" | "timers" | "inquiries") =>
  desk.sql.all(desk.sql.q.selectFrom(table).selectAll()).length;

describe("a test for whoever tests alone", () => {
  it("is offered and told to nobody else, rings nowhere, and is marked in every message", async () => {
    const id = await test(false);
    expect(desk.looker.lead(id)).toMatchObject({ test: true, tester: "p_ines", bell: null });
    expect(desk.looker.lead(id)?.handOff?.to).toEqual(["p_ines"]);
    expect(desk.reader.events(id).find((e) => e.kind === "offered")?.why?.outcome).toMatch(
      /^A test: offered to .+ alone\. By the rules: .+/,
    );
    await pass(6 * HOUR);
    expect(delivered.length).toBeGreaterThan(1);
    const hers: readonly string[] = [ines.email, ines.phone, ines.chat];
    for (const { toAddress: to, body, subject } of delivered) {
      expect(hers).toContain(to);
      expect(body).toMatch(/^Test: /);
      if (subject) expect(subject).toMatch(/^Test: /);
    }
    const lead = desk.looker.lead(id)!;
    expect(lead).toMatchObject({ handOff: null, ownerId: null, listed: null, others: [] });
  });

  it("stays with whoever took it, untried or not", async () => {
    const id = await test(false);
    expect(desk.act(id, (world) => take(world, "p_ines")).ok).toBe(true);
    await pass(6 * HOUR);
    expect(desk.looker.lead(id)).toMatchObject({ ownerId: "p_ines", others: [], listed: null });
  });
});

describe("a test by the rules", () => {
  it("reaches whom the rules say, marked, and takes no turn in a rotation", async () => {
    const before = JSON.stringify(desk.look(null).rotations);
    const id = await test(true);
    const lead = desk.looker.lead(id)!;
    expect(lead).toMatchObject({ test: true, tester: null, turn: null });
    expect(lead.handOff?.to).not.toContain("p_ines");
    expect(JSON.stringify(desk.look(null).rotations)).toBe(before);
    await pass(MIN);
    const told = delivered.filter((p) => p.toAddress !== ines.email && p.toAddress !== ines.phone);
    expect(told.length).toBeGreaterThan(0);
    for (const { body } of delivered) expect(body).toMatch(/^Test: /);
  });

  it("counts in no figure: no load, no lead of the day, no share, no band, no age, nothing in the morning", async () => {
    const id = await test(true);
    const to = desk.looker.lead(id)!.handOff!.to[0]!;
    desk.act(id, (world) => take(world, to));
    const figures = () => {
      const world = desk.look(null);
      return {
        load: world.loads[to] ?? 0,
        today: world.today[to] ?? 0,
        shares: desk.reader.shareEvents(0, Number.MAX_SAFE_INTEGER).length,
        bands: Object.values(desk.reader.counts(clock.now() + DAY)).reduce((a, b) => a + b, 0),
        ages: desk.reader.openByAge([clock.now()]),
        cameIn: desk.morning.facts().cameIn.length,
      };
    };
    const nothing = { load: 0, today: 0, shares: 0, bands: 0, ages: [0], cameIn: 0 };
    expect(figures()).toEqual(nothing);
    desk.looker.reload();
    expect(figures()).toEqual(nothing);
  });
});

describe("a test after a day", () => {
  it("wipes itself with everything about it, open or closed", async () => {
    const id = await test(false);
    await pass(DAY - MIN);
    expect(desk.looker.lead(id)).not.toBeNull();
    await pass(2 * MIN);
    expect(desk.looker.lead(id)).toBeNull();
    expect((["leads", "events", "outbox", "timers", "inquiries"] as const).map(left)).toEqual([
      0, 0, 0, 0, 0,
    ]);
  });

  it("stays when a real inquiry has come to it: it is no test any more", async () => {
    const id = await test(false);
    const raw = Buffer.from(JSON.stringify({ name: "Sample Person", email: ines.email, product: "barrel" }));
    const receipt = await desk.intake.submit(site, { contentType: "application/json", headers: {}, raw });
    expect(receipt.leadId).toBe(id);
    await pass(2 * DAY);
    expect(desk.looker.lead(id)).toMatchObject({ test: false, tester: null });
  });

  it("is never taken for somebody who is a lead already", async () => {
    const raw = Buffer.from(JSON.stringify({ name: "Ines", email: ines.email, product: "barrel" }));
    const real = await desk.intake.submit(site, { contentType: "application/json", headers: {}, raw });
    const id = await test(false);
    expect(id).not.toBe(real.leadId);
    await pass(2 * DAY);
    expect(desk.looker.lead(id)).toBeNull();
    expect(desk.looker.lead(real.leadId!)).toMatchObject({ test: false, emails: [ines.email] });
  });
});
