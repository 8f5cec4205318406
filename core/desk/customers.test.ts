import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { withRequirements } from "../../demo/qualifying.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { Bench, companyWith } from "../../tests/support/memory.ts";
import { foldRecords } from "../book/events.ts";
import { type Deal, isDeal } from "../book/records.ts";
import { foldAll } from "../lead/fold.ts";
import { DEAL_STAGES } from "../policy/stages.ts";
import { boardOf } from "../report/board.ts";
import { changeCustomer, joinCustomers, partCustomers } from "./customers.ts";
import { changeDeal, undoBook } from "./deals.ts";
import { candidates, handOver } from "./hand-over.ts";
import type { MemoryDesk } from "./memory.ts";
import { addNote, answerColleague } from "./notes.ts";
import { answerQuestions, askLater, close, moveStage, reopen } from "./stage.ts";
import { undo } from "./undo.ts";

/** What somebody does next, with a number to choose by. */
const deed = fc.record({
  does: fc.constantFrom(
    "answer",
    "stage",
    "note",
    "ask",
    "reply",
    "later",
    "hand-over",
    "deal",
    "move",
    "join",
    "part",
    "rename",
    "close",
    "reopen",
    "undo",
    "undo-deal",
  ),
  lead: fc.nat(3),
  n: fc.nat(11),
});

const ANSWERS: readonly Readonly<Record<string, string>>[] = [
  { "own.power": "240 V there" },
  { "own.power": "none" },
  { "own.budget": "9,500" },
  { "own.wanted_by": "2026-06-01" },
  { postal_code: "80301" },
  { product: "cabin" },
  { company: "Cedar Inn" },
];
const STAGES = ["Talking", "Qualified", "New", "nowhere"];
const pick = <T>(list: readonly T[], n: number): T | undefined => list[n % Math.max(1, list.length)];

/** Everything that must never be lost: each with where it was put. */
interface Kept {
  readonly notes: Map<string, string>;
  readonly tasks: Set<string>;
}

function run(desk: MemoryDesk, leads: readonly string[], kept: Kept, does: string, which: number, n: number) {
  const id = leads[which]!;
  const by = n % 2 ? "p_mara" : "p_ines";
  const world = desk.look(id);
  const records = [...desk.book.records.values()];
  const deals = records.filter((r): r is Deal => isDeal(r) && !r.gone);
  const companies = records.filter((r) => r.kind === "company" && !r.gone);
  const aLead = () => ({ ...desk.look(null), lead: null });
  switch (does) {
    case "answer":
      return desk.commit(answerQuestions(world, by, pick(ANSWERS, n)!));
    case "stage":
      return desk.commit(moveStage(world, by, { stage: pick(STAGES, n)!, mover: n > 5 }));
    case "note":
    case "ask": {
      const text = `@Greta ${does} ${n} ${desk.now}`;
      const done = desk.commit(addNote(world, by, text, does === "ask"));
      if (done.ok) kept.notes.set(text, id);
      return done;
    }
    case "reply": {
      const asked = desk.leads.get(id)?.asked[0];
      return asked && desk.commit(answerColleague(world, "p_greta", asked.noteId, "Yes"));
    }
    case "later": {
      const done = desk.commit(askLater(world, by, "power"));
      if (done.ok) for (const t of done.plan.after.tasks) kept.tasks.add(t.id);
      return done;
    }
    case "hand-over": {
      const known = candidates(world, world.lead!);
      const company =
        known.companies[0] && n % 3 ? { id: known.companies[0].id } : n % 4 ? { name: `Firm ${n}` } : null;
      const contact = known.contacts[0] && n % 2 ? { id: known.contacts[0].id } : {};
      return desk.commit(
        handOver(world, by, {
          company,
          contact,
          deal: { value: n * 100.25 },
          cadences: n % 2 ? "stop" : "tasks",
        }),
      );
    }
    case "deal": {
      const deal = pick(deals, n);
      return (
        deal &&
        desk.commitBook(
          changeDeal(desk.look(deal.leadIds[0] ?? null), by, deal.id, { value: `${n}.05`, note: "seen" }),
        )
      );
    }
    case "move": {
      const deal = pick(deals, n);
      const stage = pick(DEAL_STAGES, n)!;
      const reason = { won: "Signed", lost: "Price", none: "Put off", open: undefined }[stage.kind];
      return (
        deal &&
        desk.commitBook(
          changeDeal(desk.look(deal.leadIds[0] ?? null), by, deal.id, { stage: stage.key, reason }),
        )
      );
    }
    case "join":
    case "part": {
      const [a, b] = [pick(companies, n), pick(companies, n + 1)];
      const act = does === "join" ? joinCustomers : partCustomers;
      return a && b && desk.commitBook(act(aLead(), by, a.id, b.id));
    }
    case "rename": {
      const company = pick(companies, n);
      return company && desk.commitBook(changeCustomer(aLead(), by, company.id, { name: `Called ${n}` }));
    }
    case "close":
      return desk.commit(close(world, by, "No fit"));
    case "reopen":
      return desk.commit(reopen(world, by, "again"));
    case "undo": {
      const events = desk.events.get(id) ?? [];
      const act = events.at(-1)?.actId;
      return act && desk.commit(undo(world, by, act, events));
    }
    default: {
      const last = desk.book.all.at(-1);
      return last && desk.commitBook(undoBook(aLead(), by, last.actId));
    }
  }
}

/** Where a task that was ever set can be found: on the lead, on a deal, or said to be done. */
function taskIsSomewhere(desk: MemoryDesk, id: string): boolean {
  const onLead = [...desk.leads.values()].some((l) => l.tasks.some((t) => t.id === id));
  const onDeal = [...desk.book.records.values()].some((r) => isDeal(r) && r.tasks.some((t) => t.id === id));
  const told = [...desk.events.values()].flat().some((e) => e.kind === "task-set" && e.data.task.id === id);
  return onLead || onDeal || told;
}

describe("from a lead to a customer, whatever happens in whatever order", () => {
  it("nothing is lost, rows are the fold of their events, and sums stay whole", () => {
    fc.assert(
      fc.property(fc.array(deed, { minLength: 5, maxLength: 45 }), (deeds) => {
        const at = new Bench(withRequirements(tarnholt));
        const { desk } = at;
        const leads = [0, 1, 2, 3].map((i) =>
          at.arrive({
            name: `Lead ${i}`,
            email: `l${i}@${i < 2 ? "cedar.example" : "mail.example"}`,
            phone: `+1303555010${i}`,
          }),
        );
        const kept: Kept = { notes: new Map(), tasks: new Set() };
        for (const { does, lead, n } of deeds) {
          run(desk, leads, kept, does, lead, n);
          desk.advance(n * 60_000);
        }
        for (const [id, lead] of desk.leads) {
          expect(foldAll(desk.events.get(id) ?? [])).toEqual(lead);
          if (!lead.handedOver) continue;
          // Both ways: what it has become knows it.
          for (const to of [lead.handedOver.companyId, lead.handedOver.contactId, lead.handedOver.dealId])
            if (to) expect(desk.book.record(to)?.leadIds).toContain(id);
        }
        for (const rec of desk.book.records.values()) {
          expect(foldRecords(desk.book.events(rec.id))).toEqual(rec);
          if (!isDeal(rec)) continue;
          expect(Number.isSafeInteger(rec.value)).toBe(true);
          // What was made of a lead is gone with the hand-over, and only with it.
          for (const id of rec.leadIds)
            if (!rec.gone) expect(desk.leads.get(id)?.handedOver ?? null).not.toBeNull();
        }
        for (const [text, id] of kept.notes)
          expect((desk.events.get(id) ?? []).some((e) => e.kind === "noted" && e.data.text === text)).toBe(
            true,
          );
        for (const id of kept.tasks) expect(taskIsSomewhere(desk, id)).toBe(true);
        const open = [...desk.book.records.values()].filter(
          (r): r is Deal => isDeal(r) && !r.gone && !r.closed,
        );
        const columns = boardOf(DEAL_STAGES, open, []);
        expect(columns.reduce((sum, c) => sum + c.sum, 0)).toBe(open.reduce((sum, d) => sum + d.value, 0));
      }),
      { numRuns: 250 },
    );
  });
});

describe("handing over", () => {
  const lodge = () => {
    const at = new Bench();
    const id = at.arrive({ name: "Ana Ruiz", email: "ana@granite.example", phone: "+13035550142" });
    return { desk: at.desk, id };
  };

  it("is refused while something that must be known is not, naming it", () => {
    const stages = tarnholt.policies.stages.map((s) =>
      s.key === "Handed over" ? { ...s, asks: ["own.budget"] } : s,
    );
    const at = new Bench(companyWith({ stages }));
    const { desk } = at;
    const id = at.arrive({ name: "Ana Ruiz", email: "ana@granite.example", phone: "+13035550142" });
    const done = handOver(desk.look(id), "p_mara", { company: null, contact: {}, deal: {} });
    expect(done.ok ? null : done.problem.errors?.map((e) => e.path)).toEqual(["own.budget"]);
  });

  it("a whole act: an unknown company leaves no contact behind", () => {
    const { desk, id } = lodge();
    const done = desk.commit(
      handOver(desk.look(id), "p_mara", { company: { id: "co_gone" }, contact: {}, deal: {} }),
    );
    expect(done.ok ? null : done.problem.code).toBe("no-such-company");
    expect(desk.book.records.size).toBe(0);
  });

  it("without a deal what was open is written down where it is found", () => {
    const { desk, id } = lodge();
    desk.commit(askLater(desk.look(id), "p_mara", "power"));
    desk.commit(handOver(desk.look(id), "p_mara", { company: null, contact: {}, deal: null }));
    const notes = desk.book.all.flatMap((e) => (e.kind === "noted" ? [e.data.text] : []));
    expect(notes[0]).toContain("Ask: Is there 240-volt power");
  });
});
