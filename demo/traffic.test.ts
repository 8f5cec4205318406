import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { isAlone } from "../core/lead/lead.ts";
import { MovableClock } from "../server/clock.ts";
import type { Desk } from "../server/desk.ts";
import { verify } from "../server/verify-desk.ts";
import { testDesk } from "../tests/support/desk.ts";
import { MIN } from "../tests/support/memory.ts";
import { LiveTraffic } from "./traffic.ts";

/** Wednesday, ten in the morning at the desk. */
const TEN = Date.parse("2026-03-04T17:00:00Z");

let clock: MovableClock;
let desk: Desk;
let traffic: LiveTraffic;
const texts: string[] = [];
/** What is on its way to the desk. */
let sending: Promise<unknown>[] = [];

beforeEach(async () => {
  clock = new MovableClock(TEN, { frozen: true });
  desk = await testDesk({ clock });
  texts.length = 0;
  const send = async (key: string, fields: Readonly<Record<string, unknown>>) => {
    const source = desk.setup.sources.find((s) => s.key === key)!;
    const raw = Buffer.from(JSON.stringify(fields));
    const sent = desk.intake.submit(source, { contentType: "application/json", headers: {}, raw });
    sending.push(sent);
    await sent;
  };
  traffic = new LiveTraffic(
    desk,
    { send, text: async (from, body) => void texts.push(`${from}: ${body}`) },
    7,
  );
});
afterEach(async () => {
  traffic.stop();
  await Promise.all(sending);
  expect(verify(desk.sql).faults).toEqual([]);
  await desk.close();
});

/** Let the desk's clock run on, a second at a time, with all that falls due. */
async function run(minutes: number): Promise<void> {
  for (const end = clock.now() + minutes * MIN; clock.now() < end; ) {
    clock.hold(clock.now() + 1_000);
    desk.timers.runDue();
    traffic.tick();
    // What was sent is on disk before time goes on.
    await Promise.all(sending);
    sending = [];
  }
}
const leads = () => desk.reader.leads({ limit: 500 }).items;

describe("live traffic", () => {
  it("brings about as many inquiries as it is set to, by several ways; ours take, pass, forget and call, and no lead is left alone", async () => {
    traffic.set(6);
    await run(20);
    const { arrived, took, forgot, passed, called } = traffic.state;
    // 120 are meant; five standard deviations of a Poisson count either way.
    expect(arrived).toBeGreaterThan(65);
    expect(arrived).toBeLessThan(175);
    expect(leads().length).toBeGreaterThan(arrived / 2);
    expect(new Set(leads().map((l) => l.sourceId)).size).toBeGreaterThan(3);
    expect(took).toBeGreaterThan(20);
    expect(called).toBeGreaterThan(10);
    expect(forgot + passed).toBeGreaterThan(0);
    expect(leads().filter(isAlone)).toEqual([]);
    expect(leads().some((l) => l.bell?.state === "answered")).toBe(true);
  });

  it("that is switched off brings nobody more, and nobody acts any more", async () => {
    traffic.set(20);
    await run(2);
    traffic.set(0);
    const before = traffic.state;
    const events = desk.reader.lastEvent();
    for (let n = 0; n < 600; n++) {
      clock.hold(clock.now() + 1_000);
      traffic.tick();
    }
    expect(traffic.state).toEqual(before);
    expect(desk.reader.lastEvent()).toBe(events);
  });

  it("leaves be what was due while time was moved by hours", async () => {
    traffic.set(20);
    await run(1);
    const { took, called } = traffic.state;
    clock.hold(clock.now() + 90 * MIN);
    traffic.tick();
    expect(traffic.state).toMatchObject({ took, called });
  });
});
