import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import pino from "pino";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { take } from "../core/desk/hand-off.ts";
import { tarnholt } from "../demo/tarnholt.ts";
import { MovableClock } from "../server/clock.ts";
import { readConfig } from "../server/config.ts";
import { atDesk } from "../tests/support/memory.ts";
import { type House, openHouse } from "./house.ts";

/** A real desk that is only started, on a clock that is moved: what must happen on its own does, and nobody calls it. */

const TUESDAY_EVENING = atDesk("2026-03-03T19:00:00");
const clock = new MovableClock(TUESDAY_EVENING, { frozen: true });
let data: string;
let house: House | null = null;

beforeEach(() => {
  data = mkdtempSync(join(tmpdir(), "kite-bell-house-"));
  clock.hold(TUESDAY_EVENING);
});
afterEach(async () => {
  await house?.close();
  house = null;
  rmSync(data, { recursive: true, force: true });
});

/** A line for texts at which nobody answers: what goes by it waits, and people count as reached. */
const LINE = { KITEBELL_TEXT_URL: "http://127.0.0.1:9" };

async function start(env: Readonly<Record<string, string>> = LINE): Promise<House> {
  const config = readConfig({ KITEBELL_DATA: data, ...env }, []);
  const log = pino({ level: "silent" });
  house = await openHouse({ config, folder: null, origin: "http://desk.invalid", log, clock });
  return house;
}
async function again(): Promise<House> {
  await house?.close();
  return start();
}

/** The company of the demo, with a manager who is told each morning. */
async function company(env = LINE): Promise<House> {
  const { desk } = await start(env);
  desk.changeSetup({
    ...tarnholt,
    policies: { ...tarnholt.policies, morning: { on: true, ways: ["email"] } },
  });
  return house!;
}

const inquire = ({ desk }: House, phone = "303 555 0101") =>
  desk.intake.submit(desk.setup.sources.find((s) => s.key === "plan-your-sauna")!, {
    contentType: "application/json",
    headers: {},
    raw: Buffer.from(JSON.stringify({ name: "Ana", phone, product: "barrel" })),
  });
const purposes = ({ desk }: House) =>
  desk.sql.all(desk.sql.q.selectFrom("outbox").select("purpose")).map((row) => row.purpose);

describe("a desk that is only started", () => {
  it("tells managers in the morning", async () => {
    const at = await company();
    await inquire(at);
    expect(purposes(at)).not.toContain("morning");
    clock.hold(atDesk("2026-03-04T08:00:30"));
    await vi.waitFor(() => expect(purposes(at)).toContain("morning"), { timeout: 20_000 });
  });

  it("with no way out at all offers its leads: everybody hears by the Desk in the browser", async () => {
    const at = await company({} as typeof LINE);
    clock.hold(atDesk("2026-03-04T09:00:00"));
    const { leadId } = await inquire(at);
    expect(at.desk.looker.lead(leadId!)!.handOff).not.toBeNull();
  });

  it("offers nobody a lead they would not hear of by the ways there are: it waits on the list, and says why", async () => {
    const at = await company();
    const { setup } = at.desk;
    const phones = (phone: (of: string) => string) =>
      at.desk.changeSetup({ ...setup, people: setup.people.map((p) => ({ ...p, phone: phone(p.phone) })) });
    phones(() => "");
    clock.hold(atDesk("2026-03-04T09:00:00"));
    const { leadId } = await inquire(at);
    const lead = at.desk.looker.lead(leadId!)!;
    expect(lead.handOff).toBeNull();
    expect(lead.listed).not.toBeNull();
    const why = at.desk.reader.events(leadId!).find((e) => e.kind === "listed")?.why;
    expect(why?.steps.map((s) => s.reason)).toContain("can’t be told: team chat and mail not set up");
    // Whoever can be told by something is offered it, by that.
    phones((of) => of);
    const { leadId: second } = await inquire(at, "303 555 0102");
    expect(at.desk.looker.lead(second!)!.handOff).not.toBeNull();
  });

  it("rings", async () => {
    const at = await company();
    clock.hold(atDesk("2026-03-04T09:00:00"));
    const { leadId } = await inquire(at);
    clock.hold(atDesk("2026-03-04T09:06:00"));
    await vi.waitFor(() => expect(at.desk.looker.lead(leadId!)?.bell?.state).toBe("rung"), {
      timeout: 20_000,
    });
  });

  it("goes on with a sweep that was cut off", async () => {
    const at = await company();
    clock.hold(atDesk("2026-03-04T09:00:00"));
    const { leadId } = await inquire(at);
    expect(at.desk.looker.lead(leadId!)!.bell!.dueAt).toBe(atDesk("2026-03-04T09:05:00"));
    // The desk went down between the change and the sweep: it is owed and not done.
    const { sql, setup, sweep } = at.desk;
    const { desk } = setup.policies;
    const closed = { ...desk, exceptions: { "2026-03-04": { name: "Snow", spans: [] } } };
    sql.transaction(() => {
      sql.run(
        sql.q.insertInto("setup").values({
          at: clock.now(),
          by: null,
          setupJson: JSON.stringify({ ...setup, policies: { ...setup.policies, desk: closed } }),
        }),
      );
      sweep.owe("reckon");
    });
    const next = await again();
    await vi.waitFor(
      () => expect(next.desk.looker.lead(leadId!)!.bell!.dueAt).toBe(atDesk("2026-03-05T08:05:00")),
      { timeout: 20_000 },
    );
  });

  it("tells of a source that has gone quiet", async () => {
    const at = await company();
    // Three weeks of an inquiry an hour, then nothing.
    const source = at.desk.setup.sources.find((s) => s.key === "plan-your-sauna")!;
    const { sql } = at.desk;
    const begin = TUESDAY_EVENING - 21 * 86_400_000;
    sql.transaction(() => {
      for (let hour = begin - (begin % 3_600_000); hour < TUESDAY_EVENING; hour += 3_600_000)
        sql.run(sql.q.insertInto("arrivals").values({ sourceId: source.id, hour, n: 1 }));
    });
    await inquire(at);
    expect(purposes(at)).not.toContain("quiet");
    clock.hold(TUESDAY_EVENING + 12 * 3_600_000);
    await vi.waitFor(() => expect(purposes(at)).toContain("quiet"), { timeout: 30_000 });
  });

  it("lends what waits on somebody whose absence has begun", async () => {
    const at = await company();
    clock.hold(atDesk("2026-03-04T09:00:00"));
    const { leadId } = await inquire(at);
    const lead = at.desk.looker.lead(leadId!)!;
    const holder = lead.handOff!.to[0]!;
    const people = at.desk.setup.people.map((p) =>
      p.id === holder
        ? {
            ...p,
            absences: [
              {
                from: atDesk("2026-03-04T09:10:00"),
                to: atDesk("2026-03-06T18:00:00"),
                reason: "leave",
                coverId: "p_hanne",
                waiting: "goes" as const,
                after: "back" as const,
              },
            ],
          }
        : p,
    );
    at.desk.act(leadId!, (world) => take(world, holder));
    at.desk.changeSetup({ ...at.desk.setup, people });
    clock.hold(atDesk("2026-03-04T09:11:00"));
    await vi.waitFor(() => expect(at.desk.looker.lead(leadId!)?.ownerId).toBe("p_hanne"), {
      timeout: 40_000,
    });
  });

  it("goes on with a document that was not taken whole", async () => {
    const at = await company();
    const prospect = (n: number) =>
      `<prospect><customer><contact><name part="full">P ${n}</name><phone>303-555-01${10 + n}</phone></contact></customer></prospect>`;
    const raw = Buffer.from(`<adf>${Array.from({ length: 6 }, (_, n) => prospect(n)).join("")}</adf>`);
    const partners = at.desk.setup.sources.find((s) => s.key === "partners")!;
    const { sql } = at.desk;
    const { inquiryId } = await at.desk.intake.submit(partners, {
      contentType: "application/xml",
      headers: {},
      raw,
    });
    await at.desk.intake.settled();
    // As it is when the process was killed after the second of the others.
    sql.run(
      sql.q.deleteFrom("inquiries").where(
        "dedupe",
        "in",
        [2, 3, 4].map((n) => `${inquiryId}:${n}`),
      ),
    );
    sql.run(sql.q.insertInto("documents").values({ inquiryId, done: 2 }));
    const next = await again();
    await vi.waitFor(() => {
      const { q } = next.desk.sql;
      expect(next.desk.sql.all(q.selectFrom("documents").select("inquiryId"))).toEqual([]);
      expect(next.desk.sql.all(q.selectFrom("inquiries").select("id"))).toHaveLength(6);
    });
  });
});
