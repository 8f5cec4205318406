import { beforeEach, describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { atDesk, Bench, companyWith, DAY, HOUR } from "../../tests/support/memory.ts";
import { sayBookEvent } from "../book/events.ts";
import { type Deal, isContact, isDeal } from "../book/records.ts";
import type { Stage } from "../policy/stages.ts";
import { changeCustomer, joinCustomers, newDeal, partCustomers } from "./customers.ts";
import { type BookDecided, changeDeal, type DealChange, readDay, undoBook } from "./deals.ts";
import { take } from "./hand-off.ts";
import { candidates, handOver } from "./hand-over.ts";
import { setNextStep } from "./work.ts";

const { stages } = tarnholt.policies;

let at: Bench;
let leadId: string;
let dealId: string;

function begin(change: Record<string, Partial<Stage>> = {}) {
  at = new Bench(companyWith({ stages: stages.map((s) => ({ ...s, ...change[s.key] })) }));
  leadId = at.arrive({ name: "Rosa Lindqvist", email: "rosa@cedar-inn.example", phone: "303 555 0142" });
  at.act(leadId, (w) => take(w, "p_mara"));
  at.act(leadId, (w) =>
    setNextStep(w, "p_mara", { kind: "call", note: "Send drawings", dueAt: at.desk.now + DAY }),
  );
  at.act(leadId, (w) =>
    handOver(w, "p_mara", { company: { name: "Cedar Inn" }, contact: {}, deal: { value: "6800.50" } }),
  );
  dealId = at.lead(leadId).handedOver!.dealId!;
}

const deal = () => at.desk.book.record(dealId) as Deal;
const change = (more: DealChange, by = "p_mara") =>
  at.desk.commitBook(changeDeal(at.desk.look(leadId), by, dealId, more));
const code = (decided: BookDecided) => (decided.ok ? null : decided.problem.code);
const path = (decided: BookDecided) => (decided.ok ? null : decided.problem.errors?.[0]?.path);
const said = () => at.desk.book.events(dealId).map((e) => sayBookEvent(e, at.desk.setup));

beforeEach(() => begin());

describe("a deal made of a lead", () => {
  it("has the owner, the source, the step and the product of its lead, in the first stage of deals", () => {
    expect(deal()).toMatchObject({
      name: "Barrel sauna, Cedar Inn",
      ownerId: "p_mara",
      sourceId: "src_site",
      stage: "Looking at it",
      value: 680_050,
      currency: "USD",
      lines: [{ product: "barrel", quantity: 1, price: 680_050 }],
      nextStep: { note: "Send drawings", dueAt: atDesk("2026-03-05T09:00:00") },
      leadIds: [leadId],
      path: [{ stage: "Looking at it", at: at.desk.now }],
    });
  });

  it("is worth what the lead was where nothing is said", () => {
    const other = at.arrive({ name: "Otis Ulrich", phone: "303 555 0143", product: "cabin" });
    at.act(other, (w) => handOver(w, "p_ines", { company: null, contact: {}, deal: {} }));
    expect((at.desk.book.record(at.lead(other).handedOver!.dealId!) as Deal).value).toBe(1_450_000);
  });

  it.each([
    [{ value: "lots" }, "deal.value"],
    [{ value: -1 }, "deal.value"],
    [{ value: "1.005" }, "deal.value"],
    [{ stage: "Won" }, "deal.stage"],
    [{ stage: "nowhere" }, "deal.stage"],
    [{ expectedOn: "2026-02-30" }, "deal.expectedOn"],
    [{ expectedOn: "soon" }, "deal.expectedOn"],
  ])("%j is refused, naming the field", (more, field) => {
    const other = at.arrive({ name: "Otis Ulrich", phone: "303 555 0143" });
    const done = handOver(at.desk.look(other), "p_ines", { company: null, contact: {}, deal: more });
    expect(done.ok ? null : done.problem.errors?.[0]?.path).toBe(field);
  });
});

describe("changing a deal", () => {
  it("keeps what differs, and tells it in a sentence", () => {
    change({ name: "Two saunas", value: 12_500, expectedOn: "2026-04-02", ownerId: "p_idris" });
    expect(deal()).toMatchObject({
      name: "Two saunas",
      value: 1_250_000,
      expectedOn: "2026-04-02",
      ownerId: "p_idris",
    });
    expect(said().at(-1)).toBe(
      "Changed: name Two saunas; value $12,500; expected Thu 2 Apr; owner Idris Bell-Hassan",
    );
  });

  it("writes nothing when nothing differs", () => {
    const before = at.desk.book.events(dealId).length;
    change({ name: deal().name, value: "6800.5", ownerId: "p_mara" });
    expect(at.desk.book.events(dealId)).toHaveLength(before);
  });

  it("is worth the sum of its products, unless somebody says otherwise", () => {
    change({
      lines: [
        { product: "barrel", quantity: 2, price: 6_800 },
        { product: "plunge", quantity: 1, price: "2900.50" },
      ],
    });
    expect(deal().value).toBe(2 * 680_000 + 290_050);
    change({ lines: [{ product: "cabin", quantity: 1, price: 14_500 }], value: 14_000 });
    expect(deal().value).toBe(1_400_000);
  });

  it.each([
    [{ name: " " }, "name"],
    [{ value: "a lot" }, "value"],
    [{ expectedOn: "31/12/2026" }, "expectedOn"],
    [{ ownerId: "p_nobody" }, "ownerId"],
    [{ companyId: "co_nobody" }, "companyId"],
    [{ contactId: "co_nobody" }, "contactId"],
    [{ lines: [{ product: "boat", quantity: 1, price: 1 }] }, "lines.0.product"],
    [{ lines: [{ product: "barrel", quantity: 0, price: 1 }] }, "lines.0.quantity"],
    [{ lines: [{ product: "barrel", quantity: 1.5, price: 1 }] }, "lines.0.quantity"],
    [{ lines: [{ product: "barrel", quantity: 1, price: "x" }] }, "lines.0.price"],
    [{ stage: "nowhere" }, "stage"],
    [{ nextStep: { note: "x", dueAt: 1 } }, "nextStep.dueAt"],
    [{ nextStep: { note: " ", dueAt: 9e12 } }, "nextStep.note"],
  ])("%j is refused as a whole, naming the field", (more, field) => {
    const before = at.desk.book.all.length;
    expect(path(change({ note: "kept with it", ...more }))).toBe(field);
    expect(at.desk.book.all).toHaveLength(before);
  });

  it("of no deal, and by nobody, is refused", () => {
    const world = at.desk.look(null);
    expect(code(changeDeal(world, "p_mara", "deal_none", {}))).toBe("no-such-deal");
    expect(code(changeDeal(world, "p_nobody", dealId, {}))).toBe("nobody-by-that-id");
  });

  it("tasks that came along are done once", () => {
    const task = { id: "t1", note: "Ask for the permit", dueAt: at.desk.now, to: ["p_mara"] };
    at.desk.book.records.set(dealId, { ...deal(), tasks: [task] });
    expect(code(change({ doneTask: "t1" }))).toBeNull();
    expect(deal().tasks).toEqual([]);
    expect(code(change({ doneTask: "t1" }))).toBe("done-already");
  });
});

describe("moving a deal", () => {
  it("keeps when it came to each stage", () => {
    at.desk.advance(3 * DAY);
    change({ stage: "Priced" });
    expect(deal()).toMatchObject({ stage: "Priced", since: at.desk.now });
    expect(deal().path.map((p) => p.stage)).toEqual(["Looking at it", "Priced"]);
  });

  it("that somebody has moved meanwhile is refused with where it is now", () => {
    change({ stage: "Priced" });
    const late = change({ stage: "Deciding", fromStage: "Looking at it" });
    expect(late.ok ? "" : late.problem.detail).toBe("Somebody has moved it to “Priced” meanwhile.");
  });

  it("asks for what its stage asks for: of the deal, of its estimates, and of its lead", () => {
    begin({ Deciding: { asks: ["expectedOn", "estimate", "own.power", "products", "worth"] } });
    const refused = change({ stage: "Deciding" });
    expect(refused.ok ? [] : refused.problem.errors?.map((e) => e.path)).toEqual([
      "expectedOn",
      "estimate",
      "own.power",
    ]);
  });

  it("goes only from where it may", () => {
    begin({ Won: { from: ["Deciding"] } });
    expect(code(change({ stage: "Won", reason: "Signed" }))).toBe("not-from-here");
  });

  it("to an end needs its reason, and clears what was planned", () => {
    expect(path(change({ stage: "Lost" }))).toBe("reason");
    expect(path(change({ stage: "Lost", reason: "Signed" }))).toBe("reason");
    change({ stage: "Lost", reason: "price" });
    expect(deal()).toMatchObject({
      nextStep: null,
      closed: { kind: "lost", reason: "Price", at: at.desk.now },
    });
    expect(said().at(-1)).toBe("Looking at it → Lost: Price");
  });

  it("put off is asked again in the months its reason says", () => {
    change({ stage: "No decision", reason: "Put off" });
    expect(deal().nextStep).toEqual({
      note: "Ask again: put off",
      dueAt: atDesk("2026-09-04T09:00:00"),
    });
  });

  it("won makes a customer of contact and lead; taken back it makes none", () => {
    const won = change({ stage: "Won", reason: "Signed" });
    if (!won.ok) throw new Error(won.problem.detail);
    expect(at.lead(leadId)).toMatchObject({ customer: { since: at.desk.now }, closed: null });
    const contact = at.desk.book.record(deal().contactId!);
    expect(isContact(contact) && contact.customerSince).toBe(at.desk.now);
    expect(won.plan.lead?.told).toEqual([{ event: "deal.won", leadId, dealId }]);
  });

  it("opened again is open, and stands where it was moved to", () => {
    change({ stage: "Lost", reason: "Price" });
    change({ stage: "Deciding" });
    expect(deal()).toMatchObject({ stage: "Deciding", closed: null });
  });
});

describe("taking back", () => {
  it("gives each field as it was, and only the newest act", () => {
    const first = change({ value: 9_000 });
    const second = change({ value: 9_500, name: "Later" });
    if (!first.ok || !second.ok) throw new Error("refused");
    const undo = (actId: string) => at.desk.commitBook(undoBook(at.desk.look(null), "p_mara", actId));
    expect(code(undo(first.plan.actId))).toBe("too-late-to-undo");
    expect(code(undo(second.plan.actId))).toBeNull();
    expect(deal()).toMatchObject({ value: 900_000, name: "Barrel sauna, Cedar Inn" });
    expect(code(undo("act_none"))).toBe("cant-be-undone");
  });

  it("is not hindered by a note, nor by what another system calls it", () => {
    const moved = change({ stage: "Priced" });
    change({ note: "They liked it" });
    change({ rank: 3 });
    if (!moved.ok) throw new Error("refused");
    expect(code(at.desk.commitBook(undoBook(at.desk.look(null), "p_mara", moved.plan.actId)))).toBeNull();
    expect(deal().stage).toBe("Looking at it");
    expect(said()).toContain("Note: They liked it");
  });
});

describe("companies and contacts", () => {
  const companyId = () => deal().companyId!;
  const contactId = () => deal().contactId!;
  const alter = (id: string, more: Parameters<typeof changeCustomer>[3]) =>
    at.desk.commitBook(changeCustomer(at.desk.look(null), "p_ines", id, more));

  it("are changed field by field", () => {
    alter(companyId(), {
      domain: "https://www.Cedar-Inn.example/rooms",
      phone: "303 555 0177",
      postalCode: "80 301",
    });
    expect(at.desk.book.record(companyId())).toMatchObject({
      domain: "cedar-inn.example",
      phone: "+13035550177",
      postalCode: "80301",
    });
    alter(contactId(), { role: "Owner", emails: ["rosa@cedar-inn.example", "R@X.example"], phones: [] });
    expect(at.desk.book.record(contactId())).toMatchObject({
      role: "Owner",
      emails: ["rosa@cedar-inn.example", "r@x.example"],
      phones: [],
    });
  });

  it.each([
    ["company", { name: "" }, "name"],
    ["company", { domain: "not a domain" }, "domain"],
    ["company", { phone: "12" }, "phone"],
    ["contact", { emails: ["nobody"] }, "emails.0"],
    ["contact", { phones: ["x"] }, "phones.0"],
    ["contact", { companyId: "co_none" }, "companyId"],
  ] as const)("a %s with %j is refused, naming the field", (kind, more, field) =>
    expect(path(alter(kind === "company" ? companyId() : contactId(), more))).toBe(field),
  );

  it("a deal is neither, and nothing there is not is changed", () => {
    expect(code(alter(dealId, { name: "x" }))).toBe("not-in-the-book");
    expect(code(alter("co_none", { name: "x" }))).toBe("not-in-the-book");
  });

  it("joined and taken apart, each knows again what was its own, and what came meanwhile stays", () => {
    const other = at.arrive({ name: "Ana Ruiz", phone: "303 555 0150", email: "ana@cedar-inn.example" });
    at.act(other, (w) =>
      handOver(w, "p_ines", { company: { name: "Cedar Inn Ltd" }, contact: {}, deal: null }),
    );
    const second = at.lead(other).handedOver!.companyId!;
    const act = (f: typeof joinCustomers) =>
      at.desk.commitBook(f(at.desk.look(null), "p_ines", companyId(), second));
    expect(code(act(partCustomers))).toBe("not-joined");
    expect(code(act(joinCustomers))).toBeNull();
    expect(code(act(joinCustomers))).toBe("cant-be-joined");
    expect(at.desk.book.record(companyId())?.leadIds).toEqual([leadId, other]);
    alter(companyId(), { phone: "303 555 0177" });
    expect(code(act(partCustomers))).toBeNull();
    expect(at.desk.book.record(companyId())).toMatchObject({
      leadIds: [leadId],
      phone: "+13035550177",
      notSame: [second],
    });
    expect(at.desk.book.record(second)).toMatchObject({ leadIds: [other], joinedTo: null });
  });

  it("a company and a contact are never one, and nothing is joined to itself", () => {
    const join = (a: string, b: string) => code(joinCustomers(at.desk.look(null), "p_ines", a, b));
    expect(join(companyId(), contactId())).toBe("cant-be-joined");
    expect(join(companyId(), companyId())).toBe("cant-be-joined");
    expect(join("co_none", companyId())).toBe("not-in-the-book");
  });

  it("are offered to the next lead by domain, name, number and address, with the reasons", () => {
    const other = at.arrive({
      name: "Rosa Lindqvist",
      phone: "303 555 0142",
      email: "info@cedar-inn.example",
    });
    const found = candidates(at.desk.look(other), at.lead(other));
    expect(found.companies).toMatchObject([
      { id: companyId(), reasons: ["the same domain, cedar-inn.example"] },
    ]);
    expect(found.contacts).toMatchObject([
      { id: contactId(), reasons: ["the same phone number", "the same name"] },
    ]);
  });

  it("begin another deal, which comes from no source", () => {
    const made = at.desk.commitBook(
      newDeal(
        at.desk.look(null),
        "p_ines",
        { contactId: contactId(), name: "A second tub" },
        "Looking at it",
      ),
    );
    const record = made.ok ? made.plan.book[0]?.after : null;
    expect(isDeal(record) && record).toMatchObject({
      name: "A second tub",
      contactId: contactId(),
      companyId: companyId(),
      ownerId: "p_ines",
      sourceId: null,
    });
    expect(code(newDeal(at.desk.look(null), "p_ines", { name: "x" }, "Priced"))).toBe("not-in-the-book");
  });
});

describe("a day", () => {
  it.each([
    ["2026-03-04", "2026-03-04"],
    [" 2026-12-31 ", "2026-12-31"],
    ["", null],
    [null, null],
    ["2026-02-29", undefined],
    ["2026-3-4", undefined],
    ["tomorrow", undefined],
  ])("%j is read as %j", (text, day) => expect(readDay(text)).toBe(day));
});

describe("the cadences of a lead that is handed over", () => {
  it("stop, or their next touch becomes a task of the deal", () => {
    const plan = {
      name: "Stay in touch",
      reason: "test",
      touches: [{ kind: "email", after: "PT2H", from: "start", subject: "Hello", body: "Hello" }],
      stops: [],
      enters: [{ on: "inquiry" }],
      spreadMinutes: 0,
      precedence: 1,
      byHandHours: 0,
    } as const;
    const cadence = { id: "c", version: 1, live: plan, draft: null, publishedAt: 0, kept: [] };
    at = new Bench(companyWith({ cadences: [cadence] }));
    for (const cadences of ["stop", "tasks"] as const) {
      const id = at.arrive({
        name: `Ana ${cadences}`,
        phone: cadences === "stop" ? "303 555 0160" : "303 555 0161",
      });
      at.act(id, (w) => take(w, "p_mara"));
      at.act(id, (w) => handOver(w, "p_mara", { company: null, contact: {}, deal: {}, cadences }));
      expect(at.lead(id).cadences.map((r) => r.ended?.why)).toEqual(["closed"]);
      const made = at.desk.book.record(at.lead(id).handedOver!.dealId!) as Deal;
      expect(made.tasks.map((t) => [t.note, t.dueAt, t.to])).toEqual(
        cadences === "stop" ? [] : [["Next of “Stay in touch”: email", at.desk.now + 2 * HOUR, ["p_mara"]]],
      );
    }
  });
});
