import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import pino from "pino";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { type Contact, isContact, isDeal } from "../../core/book/records.ts";
import { changeCustomer, joinCustomers } from "../../core/desk/customers.ts";
import { changeDeal } from "../../core/desk/deals.ts";
import { handOver } from "../../core/desk/hand-over.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { idle, NINE } from "../../tests/support/desk.ts";
import { killAt } from "../../tests/support/killed.ts";
import { MovableClock } from "../clock.ts";
import { type Desk, openDesk } from "../desk.ts";
import { newSecret } from "../hooks/hooks.ts";
import { verify } from "../verify-desk.ts";

let folder: string;
let desk: Desk;
let copies = 0;
const left: Desk[] = [];

const open = (data: string): Promise<Desk> =>
  openDesk({
    data,
    clock: new MovableClock(NINE, { frozen: true }),
    setup: tarnholt,
    channels: { email: idle, text: idle, chat: idle },
    url: "https://desk.example",
    log: pino({ level: "silent" }),
    hooksInside: () => true,
    durable: false,
  });

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), "kite-bell-book-"));
  desk = await open(join(folder, "desk"));
});
afterEach(async () => {
  expect(verify(desk.sql).faults).toEqual([]);
  await desk.close();
  for (const gone of left.splice(0)) await gone.close();
  rmSync(folder, { recursive: true, force: true });
});

const site = tarnholt.sources.find((s) => s.key === "plan-your-sauna")!;
let sent = 0;
async function submit(fields: Record<string, string>): Promise<string> {
  const raw = Buffer.from(JSON.stringify({ product: "barrel", submission_id: `b${++sent}`, ...fields }));
  const { leadId } = await desk.intake.submit(site, { contentType: "application/json", headers: {}, raw });
  if (!leadId) throw new Error("It was not understood.");
  return leadId;
}

function over(leadId: string, deal: object | null = { value: 5 }) {
  const done = desk.act(leadId, (w) => handOver(w, "p_mara", { company: null, contact: {}, deal }));
  if (!done.ok) throw new Error(done.problem.detail);
  return done.plan.after.handedOver!;
}

function does<T extends { ok: boolean }>(done: T): T & { ok: true } {
  if (!done.ok) throw new Error(JSON.stringify(done));
  return done as T & { ok: true };
}

describe("what only the book knows of somebody", () => {
  it("leads their next inquiry to the lead they are: a number added to the contact is theirs", async () => {
    const leadId = await submit({ name: "Ana Rask", phone: "303 555 0171" });
    const { contactId } = over(leadId);
    does(
      desk.actBook(null, (w) =>
        changeCustomer(w, "p_mara", contactId!, { phones: ["+13035550171", "+13035550172"] }),
      ),
    );
    // A list asks for many at once, and is told the same.
    expect(desk.looker.matches(["+13035550172", "+13035550199"])).toEqual(
      new Map([["+13035550172", { leadId, on: "phone number as a customer’s" }]]),
    );
    expect(await submit({ name: "A. Rask", phone: "303 555 0172" })).toBe(leadId);
    const event = desk.reader.events(leadId).findLast((e) => e.kind === "inquiry");
    expect(event?.data).toMatchObject({ on: "phone number as a customer’s" });
  });

  it("a number of two contacts tells nobody apart; a company’s own number is no person’s", async () => {
    const [a, b] = [
      await submit({ name: "Ana Rask", phone: "303 555 0171" }),
      await submit({ name: "Bo Dahl", phone: "303 555 0173" }),
    ];
    const [one, two] = [over(a), over(b)];
    for (const { contactId } of [one, two]) {
      const { phones } = desk.looker.book.record(contactId!) as Contact;
      does(
        desk.actBook(null, (w) =>
          changeCustomer(w, "p_mara", contactId!, { phones: [...phones, "+13035550174"] }),
        ),
      );
    }
    expect(desk.looker.match(["+13035550174"])).toBeNull();
    const made = desk.act(await submit({ name: "Cy", phone: "303 555 0175" }), (w) =>
      handOver(w, "p_mara", { company: { name: "Rask Inns" }, contact: null, deal: { value: 1 } }),
    );
    const { companyId } = does(made).plan.after.handedOver!;
    does(desk.actBook(null, (w) => changeCustomer(w, "p_mara", companyId!, { phone: "+13035550176" })));
    expect(desk.looker.match(["+13035550176"])).toBeNull();
  });

  it("two contacts joined are one again, and found by the numbers of both", async () => {
    const [a, b] = [
      await submit({ name: "Ana Rask", phone: "303 555 0171" }),
      await submit({ name: "Anna Rask", phone: "303 555 0173" }),
    ];
    const [one, two] = [over(a), over(b)];
    does(
      desk.actBook(null, (w) =>
        changeCustomer(w, "p_mara", two.contactId!, { emails: ["anna@rask.example"] }),
      ),
    );
    does(desk.actBook(null, (w) => joinCustomers(w, "p_ines", one.contactId!, two.contactId!)));
    const found = desk.looker.match(["anna@rask.example"]);
    expect([a, b]).toContain(found?.leadId);
    expect(desk.looker.book.sharing(["email:anna@rask.example"])).toEqual([one.contactId]);
  });
});

describe("the list", () => {
  it("gives pages by name that together hold everybody once, whatever the page", async () => {
    const names = ["Zoe Å", "ana b", "Ana B", "Åsa C", "bo", "Bo", "Cy"];
    for (const [i, name] of names.entries()) over(await submit({ name, phone: `303 555 02${10 + i}` }), null);
    const all = desk.looker.book.list("contact", { like: "", after: null, limit: 100 }).map((r) => r.id);
    expect(all).toHaveLength(names.length);
    for (const limit of [1, 2, 3]) {
      const seen: string[] = [];
      for (let after: string | null = null; ; after = seen.at(-1)!) {
        const page: string[] = desk.looker.book.list("contact", { like: "", after, limit }).map((r) => r.id);
        if (page.length === 0) break;
        seen.push(...page);
      }
      expect(seen).toEqual(all);
    }
    const found = desk.looker.book.list("contact", { like: "ANA", after: null, limit: 100 });
    expect(found.map((r) => r.name)).toEqual(["Ana B", "Ana B"]);
    expect(desk.looker.book.list("contact", { like: "%", after: null, limit: 100 })).toEqual([]);
  });
});

describe("the check of what is kept", () => {
  it("sees a row, a key or an event that somebody has changed by hand", async () => {
    const { contactId } = over(await submit({ name: "Ana Rask", phone: "303 555 0171" }));
    const { sql } = desk;
    const faults = () => verify(sql).faults;
    expect(faults()).toEqual([]);
    const changed = (run: () => void): readonly string[] => {
      let found: readonly string[] = [];
      expect(() =>
        sql.transaction(() => {
          run();
          found = faults();
          throw new Error("take it back");
        }),
      ).toThrow("take it back");
      return found;
    };
    const { q } = sql;
    const row = () => sql.run(q.updateTable("records").set({ name: "Eve" }).where("id", "=", contactId!));
    const key = () => sql.run(q.deleteFrom("recordKeys").where("recordId", "=", contactId!));
    const event = () => sql.run(q.deleteFrom("bookEvents").where("recordId", "=", contactId!));
    expect(changed(row)).toEqual([`${contactId}: its row is not what its events make.`]);
    expect(changed(key)).toEqual([`${contactId}: what it is found by is not what its events make.`]);
    expect(changed(event)).toEqual([`${contactId}: its row is not what its events make.`]);
    expect(faults()).toEqual([]);
  });
});

/** Do it with a kill at every one of its writes, and open what was on disk then; how often it was killed. */
async function killedAtEach(
  prepare: () => Promise<() => void>,
  survived: (before: Desk) => void | Promise<void>,
): Promise<number> {
  for (let write = 1; ; write++) {
    const act = await prepare();
    const killer = killAt(
      write,
      () => desk.sql.path,
      () => join(folder, `copy-${++copies}`),
    );
    try {
      act();
    } catch (error) {
      if (!killer.copy()) throw error;
    } finally {
      killer.stop();
    }
    const copy = killer.copy();
    if (!copy) return write - 1;
    left.push(desk);
    desk = await open(copy);
    await survived(desk);
    expect(verify(desk.sql).faults).toEqual([]);
  }
}

describe("killed at any write", () => {
  const nothing = (leadId: string) => {
    const lead = desk.looker.lead(leadId)!;
    const records = desk.sql.all(desk.sql.q.selectFrom("records").select("id"));
    return {
      over: lead.handedOver,
      records: records.length,
      deliveries: desk.hooks.deliveries({}, 9).length,
    };
  };

  it("a hand-over is there whole, with what other systems are told, or not at all, and can be done then", async () => {
    const leadId = await submit({ name: "Ana Rask", phone: "303 555 0171", company: "Rask Inns" });
    const secret = newSecret();
    const url = "http://127.0.0.1:9/in";
    does(
      desk.customers.saveHook("p_oskar", {
        name: "Books",
        url,
        events: ["lead.handed-over"],
        on: true,
        secret,
      }),
    );
    const kills = await killedAtEach(
      async () => () => void over(leadId),
      () => expect(nothing(leadId)).toEqual({ over: null, records: 0, deliveries: 0 }),
    );
    // Leads, events, timers, records, keys and the delivery are writes of their own.
    expect(kills).toBeGreaterThan(6);
    expect(nothing(leadId)).toMatchObject({ over: { companyId: null }, records: 2, deliveries: 1 });
  });

  it("a deal is won with its lead a customer, or neither", async () => {
    const leadId = await submit({ name: "Ana Rask", phone: "303 555 0171" });
    const { dealId } = over(leadId);
    const won = tarnholt.policies.stages.find((s) => s.of === "deal" && s.kind === "won")!;
    const reason = tarnholt.policies.reasons.find((r) => r.kind === "won")!;
    const kills = await killedAtEach(
      async () => () =>
        void does(
          desk.actBook(leadId, (w) =>
            changeDeal(w, "p_mara", dealId!, { stage: won.key, reason: reason.name }),
          ),
        ),
      () => {
        const deal = desk.looker.book.record(dealId!);
        expect(isDeal(deal) && deal.closed).toBeNull();
        expect(desk.looker.lead(leadId)!.customer).toBeNull();
      },
    );
    expect(kills).toBeGreaterThan(3);
    const deal = desk.looker.book.record(dealId!);
    expect(isDeal(deal) && deal.closed?.kind).toBe("won");
    expect(desk.looker.lead(leadId)!.customer).not.toBeNull();
    const { contactId } = desk.looker.lead(leadId)!.handedOver!;
    const contact = desk.looker.book.record(contactId!);
    expect(isContact(contact) && contact.customerSince).toBe(NINE);
  });
});

describe("numbers of estimates", () => {
  it("go up by one without a gap, whoever makes them at the same moment, and a refused one takes none", async () => {
    const leads = await Promise.all(
      [1, 2, 3, 4].map((n) => submit({ name: `Lead ${n}`, phone: `303 555 030${n}` })),
    );
    const sheet = tarnholt.policies.worksheets[0]!;
    const inputs = Object.fromEntries(sheet.inputs.map((i) => [i.key, "2"]));
    const make = (leadId: string) => desk.estimates.make(leadId, "p_mara", { worksheet: sheet.id, inputs });
    const first = await make(leads[0]!);
    if (!first.ok) throw new Error(first.problem.detail);
    const refused = await desk.estimates.make(leads[0]!, "p_mara", { worksheet: "nothing", inputs });
    expect(refused.ok).toBe(false);
    const made = await Promise.all(leads.map(make));
    const numbers = made.flatMap((m) => (m.ok ? [Number(m.estimate.number)] : []));
    const next = Number(first.estimate.number) + 1;
    expect([...numbers].sort((a, b) => a - b)).toEqual(leads.map((_, i) => next + i));
    for (const [i, m] of made.entries())
      if (m.ok) expect(desk.estimates.leadOf(m.estimate.id)).toBe(leads[i]);
  });
});
