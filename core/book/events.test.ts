import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import {
  BOOK_EVENTS,
  type BookData,
  type BookEvent,
  type BookEventKind,
  foldRecord,
  isPassedOver,
  sayBookEvent,
} from "./events.ts";
import { allRecordKeys, dealKeys, keysOf, MemoryBook } from "./memory.ts";
import { blankRecord, type Company, type Contact, type Deal, type Rec, type RecordKind } from "./records.ts";

const NOW = Date.parse("2026-03-04T16:00:00Z");

const event = <K extends BookEventKind>(
  kind: K,
  data: BookData[K],
  record: RecordKind = "deal",
  seq = 2,
): BookEvent =>
  ({
    id: `e${seq}`,
    recordId: "r1",
    record,
    seq,
    actId: "a1",
    at: NOW,
    actor: { kind: "person", id: "p_mara" },
    kind,
    data,
  }) as BookEvent;

const first = (kind: RecordKind, more: object = {}): Rec =>
  ({ ...blankRecord(kind, "r1", NOW - 1), seq: 1, ...more }) as Rec;

describe("what happens to a record is said in a sentence", () => {
  it.each<[BookEventKind, object, string]>([
    ["made", { fields: {} }, "Made by hand"],
    ["made", { fields: {}, from: "Rosa Lindqvist" }, "Made from the lead Rosa Lindqvist"],
    [
      "changed",
      { fields: { name: "B", emails: ["a@x.example"] } },
      "Changed: name B; mail addresses a@x.example",
    ],
    ["changed", { fields: { emails: [], companyId: "co_1" } }, "Changed: mail addresses none; company"],
    ["changed", { fields: { value: 50, expectedOn: null } }, "Changed: value $0.50; no expected date"],
    ["changed", { fields: { theirs: {} } }, "Changed: details"],
    ["linked", { leadId: "l", name: null }, "The lead without a name was handed over to it"],
    ["noted", { text: "Steep road" }, "Note: Steep road"],
    ["moved", { from: "Priced", to: "Deciding", end: null }, "Priced → Deciding"],
    ["moved", { from: "Priced", to: "Lost", end: { kind: "lost", reason: "Price" } }, "Priced → Lost: Price"],
    [
      "moved",
      { from: "gone", to: "Priced", end: null, because: "the stage is gone" },
      "gone → Priced (the stage is gone)",
    ],
    ["step", { step: null }, "No next step"],
    ["step", { step: { note: "Call", dueAt: NOW } }, "Next: Call, 09:00"],
    ["task-done", { taskId: "t", note: "Ask" }, "Done: Ask"],
    ["ranked", { rank: 1 }, "Moved up or down on the board"],
    ["known-there", { hook: "Ledger", as: "77" }, "Ledger knows it as 77"],
    ["joined", { otherId: "c2", name: "Inn Ltd", other: first("company") }, "Inn Ltd was joined to it"],
    ["joined-to", { to: "c2", name: "Inn" }, "Joined to Inn"],
    ["parted", { otherId: "c2", name: "Inn Ltd", fields: {} }, "Taken apart again from Inn Ltd"],
    ["parted-from", { from: "c2", name: "Inn" }, "Taken apart again from Inn"],
    ["taken-back", { actId: "a", what: "the change", fields: null }, "Undid the change"],
  ])("%s", (kind, data, said) => expect(sayBookEvent(event(kind, data as never), tarnholt)).toBe(said));

  it("every kind has a sentence and a fold", () => {
    for (const kind of Object.values(BOOK_EVENTS)) {
      expect(typeof kind.said).toBe("function");
      expect(typeof kind.fold).toBe("function");
    }
  });

  it("notes, order and other systems’ names keep nobody from taking back", () =>
    expect((Object.keys(BOOK_EVENTS) as BookEventKind[]).filter((kind) => isPassedOver({ kind }))).toEqual([
      "noted",
      "ranked",
      "known-there",
    ]));
});

describe("what it changes", () => {
  it("moving keeps the path, and an end clears what was planned and its place among others", () => {
    const deal = first("deal", {
      stage: "Priced",
      path: [{ stage: "Priced", at: 1 }],
      rank: 3,
      nextStep: { note: "x", dueAt: 1 },
    });
    const lost = foldRecord(
      deal,
      event("moved", { from: "Priced", to: "Lost", end: { kind: "lost", reason: "Price" } }),
    ) as Deal;
    expect(lost).toMatchObject({
      stage: "Lost",
      since: NOW,
      rank: null,
      nextStep: null,
      closed: { kind: "lost", reason: "Price", at: NOW },
    });
    expect(lost.path).toEqual([
      { stage: "Priced", at: 1 },
      { stage: "Lost", at: NOW },
    ]);
    const again = foldRecord(
      lost,
      event("moved", { from: "Lost", to: "Priced", end: null }, "deal", 3),
    ) as Deal;
    expect(again.closed).toBeNull();
  });

  it("joining fills in what this one does not know, and adds to its lists", () => {
    const one = first("contact", { name: "Rosa", emails: ["a@x.example"], role: "Owner" });
    const other = first("contact", {
      id: "r2",
      name: "R.",
      emails: ["b@x.example", "a@x.example"],
      role: "Cook",
      address: "1 Mill Rd",
      customerSince: 5,
      leadIds: ["l2"],
    });
    const joined = foldRecord(
      one,
      event("joined", { otherId: "r2", name: "R.", other }, "contact"),
    ) as Contact;
    expect(joined).toMatchObject({
      name: "Rosa",
      role: "Owner",
      address: "1 Mill Rd",
      emails: ["a@x.example", "b@x.example"],
      customerSince: 5,
      leadIds: ["l2"],
    });
  });

  it("what was taken back is as it was, or gone where it was not there", () => {
    const company = first("company", { name: "Inn" });
    const back = foldRecord(
      company,
      event("taken-back", { actId: "a", what: "x", fields: { name: "Before" } }, "company"),
    );
    expect(back).toMatchObject({ name: "Before", gone: false });
    expect(
      foldRecord(company, event("taken-back", { actId: "a", what: "x", fields: null }, "company")).gone,
    ).toBe(true);
  });

  it("what concerns deals alone leaves others as they are", () => {
    const company = first("company", { name: "Inn" }) as Company;
    for (const [kind, data] of [
      ["moved", { from: "a", to: "b", end: null }],
      ["task-done", { taskId: "t", note: "x" }],
      ["known-there", { hook: "h", as: "1" }],
    ] as const)
      expect(foldRecord(company, event(kind, data as never, "company"))).toMatchObject({
        name: "Inn",
        seq: 2,
      });
  });
});

describe("by what records are found", () => {
  const company = first("company", { id: "c1", name: "The Granite Lodge", domain: "g.example" }) as Company;
  const contact = first("contact", {
    id: "p1",
    name: "Rosa Lindqvist",
    emails: ["r@g.example"],
    companyId: "c1",
  }) as Contact;
  const deal = first("deal", { id: "d1", leadIds: ["l1"], companyId: "c1", contactId: "p1" }) as Deal;

  it("companies by domain and words, contacts by addresses and name, deals by whose they are", () => {
    expect(keysOf(company)).toEqual(["domain:g.example", "word:grani", "word:lodge"]);
    expect(keysOf(contact)).toEqual(["email:r@g.example", "name:lindq.ros"]);
    expect(keysOf(deal)).toEqual([]);
    expect(dealKeys(deal)).toEqual(["l1", "c1", "p1"]);
    expect(allRecordKeys(contact)).toContain("contact:c1");
  });

  it("what is gone, or joined to another, is found by nothing", () => {
    for (const more of [{ gone: true }, { joinedTo: "c2" }]) {
      expect(keysOf({ ...company, ...more } as Rec)).toEqual([]);
      expect(allRecordKeys({ ...contact, ...more } as Rec)).toEqual([]);
    }
    expect(dealKeys({ ...deal, gone: true })).toEqual([]);
  });

  it("the book in memory finds by the same", () => {
    const book = new MemoryBook();
    book.write([company, contact, deal].map((after) => ({ before: null, after, events: [] })));
    expect(book.sharing(["domain:g.example"])).toEqual(["c1"]);
    expect(book.sharing(["nothing"])).toEqual([]);
    expect(book.dealsOf("p1")).toEqual(["d1"]);
    expect(book.record("none")).toBeNull();
  });
});
