import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { NINE, testDesk } from "../../tests/support/desk.ts";
import { MovableClock } from "../clock.ts";
import type { Desk } from "../desk.ts";

/** Who hears that a source has gone quiet, and by which ways. */

const DAY = 86_400_000;
let desk: Desk;
let clock: MovableClock;

beforeEach(async () => {
  clock = new MovableClock(NINE, { frozen: true });
  desk = await testDesk({ clock });
});
afterEach(() => desk.close());

/** A source that speaks four times a day for sixteen days, and then not for five. */
async function goesQuiet(hours = 0): Promise<void> {
  const source = desk.setup.sources.find((s) => s.key === "partners")!;
  for (let n = 0; n < 64; n++) {
    clock.hold(NINE + (n * DAY) / 4);
    const raw = Buffer.from(JSON.stringify({ phone: `+1303555${String(2000 + n)}`, name: `Partner ${n}` }));
    await desk.intake.submit(source, { contentType: "application/json", headers: {}, raw });
  }
  clock.hold(NINE + 21 * DAY + hours * 3_600_000);
  desk.watch.run();
}
const told = () =>
  desk.sql
    .all(desk.sql.q.selectFrom("outbox").selectAll().where("purpose", "=", "quiet"))
    .filter((m) => m.body.includes("Partner referrals"))
    .map((m) => `${m.personId ?? "team"} by ${m.channel}`)
    .sort();
const managing = tarnholt.people.filter((p) => p.role === "manager" || p.role === "administrator");

describe("a source that has gone quiet", () => {
  it("is told to whoever manages by the ways the row of alerts says, and to the team", async () => {
    const alerts = { ...desk.setup.policies.alerts, quiet: ["text" as const] };
    desk.changeSetup({ ...desk.setup, policies: { ...desk.setup.policies, alerts } });
    await goesQuiet();
    expect(told()).toEqual([...managing.map((p) => `${p.id} by text`), "team by chat"].sort());
    expect(desk.watch.run()).toBe(0);
  });
  it("is told as somebody has chosen for themselves, also when they do not manage", async () => {
    const [boss] = managing;
    const people = desk.setup.people.map((p) =>
      p.id === boss!.id
        ? { ...p, alerts: { quiet: [] } }
        : p.id === "p_ines"
          ? { ...p, alerts: { quiet: ["email" as const] } }
          : p,
    );
    desk.changeSetup({ ...desk.setup, people });
    await goesQuiet();
    expect(told().some((t) => t.startsWith(boss!.id))).toBe(false);
    expect(told()).toContain("p_ines by email");
    expect(told().some((t) => t.startsWith("p_luc"))).toBe(false);
  });
  it("in the night waits for the hours of whoever is told; the team’s chat does not", async () => {
    await goesQuiet(14);
    const { q } = desk.sql;
    const messages = desk.sql.all(q.selectFrom("outbox").selectAll().where("purpose", "=", "quiet"));
    const late = messages.filter((m) => m.nextAt > m.createdAt).map((m) => m.personId);
    expect(late.length).toBeGreaterThan(0);
    expect(messages.filter((m) => m.nextAt === m.createdAt).map((m) => m.personId)).toEqual([null]);
  });
});
