import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { company, perform, START, step } from "../../tests/support/history.ts";
import { Bench, MIN } from "../../tests/support/memory.ts";
import { give } from "../desk/hand-off.ts";
import { MemoryDesk } from "../desk/memory.ts";
import { type LeadEvent, takenBackBy } from "../lead/events.ts";
import { accountOf } from "./account.ts";

/** What stands of what happened: acts that were taken back never did. */
function standing(events: readonly LeadEvent[]): readonly LeadEvent[] {
  const undone = new Set(events.flatMap(takenBackBy));
  return events.filter((e) => !undone.has(e.actId));
}

const firstAt = (events: readonly LeadEvent[], is: (event: LeadEvent) => boolean) =>
  events.find(is)?.at ?? null;

describe("the account of a lead", () => {
  it("is a plain recount of what happened to it, whatever that was", () => {
    fc.assert(
      fc.property(company, fc.array(step, { minLength: 1, maxLength: 40 }), (setup, steps) => {
        const desk = new MemoryDesk(setup, START);
        const known = new Map<number, string>();
        for (const act of steps) perform(desk, known, act);
        for (const lead of desk.leads.values()) {
          const events = desk.events.get(lead.id)!;
          const told = accountOf(events);
          if (lead.joinedTo) {
            expect(told).toBeNull();
            continue;
          }
          const stood = standing(events);
          const { lead: account, tries, offers } = told!;
          const tried = stood.filter((e) => e.kind === "tried");
          expect(account.tries).toBe(tried.length);
          expect(tries.filter((t) => t.n > 0).map((t) => t.at)).toEqual(tried.map((e) => e.at));
          expect(account.triedAt).toBe(
            firstAt(
              stood,
              (e) => e.kind === "tried" || (e.kind === "called-in" && e.data.result === "answered"),
            ),
          );
          expect(account.repliedAt).toBe(
            firstAt(stood, (e) => e.kind === "message-out" && e.data.auto === true),
          );
          expect(account.inquiries).toBe(events.filter((e) => e.kind === "inquiry").length);
          expect(account.closedAt).toBe(lead.closed?.at ?? null);
          if (lead.bell?.n === 1)
            expect([account.dueAt, account.answeredAt, account.rangAt]).toEqual([
              lead.bell.dueAt,
              lead.bell.answeredAt,
              lead.bell.rangAt,
            ]);
          // Nobody is told to have been reached who was not, nor the other way round, but what came along by a join.
          if (!events.some((e) => e.kind === "joined" || e.kind === "undone"))
            expect(account.talkedAt !== null).toBe(lead.reached);
          // Whoever was asked answered once at most; who is asked now has not.
          const asked = lead.handOff && lead.handOff.state !== "taken" ? lead.handOff.to : [];
          expect(offers.filter((o) => o.how === null).map((o) => o.person)).toEqual([...asked]);
          expect(offers).toHaveLength(
            stood.reduce((sum, e) => sum + (e.kind === "offered" ? e.data.to.length : 0), 0),
          );
          for (const offer of offers) expect(offer.endedAt === null).toBe(offer.how === null);
          const lapsed = stood.flatMap((e) => (e.kind === "lapsed" && !e.data.taken ? e.data.to : []));
          expect(offers.filter((o) => o.how === "lapsed")).toHaveLength(lapsed.length);
        }
      }),
      { numRuns: 300 },
    );
  });

  it("tells of somebody asked twice running that the first time was over, not that both lapsed", () => {
    const groups = tarnholt.groups.map((g) => ({ ...g, members: [{ personId: "p_hanne", weight: 1 }] }));
    const bench = new Bench({ ...tarnholt, groups });
    const id = bench.arrive({ product: "lodge" });
    bench.desk.advance(MIN);
    bench.act(id, (world) => give(world, "p_ines", "g_lodges", "by hand"));
    bench.desk.advance(20 * MIN);
    const lapsed = bench.events(id, "lapsed").flatMap((e) => (e.data.taken ? [] : e.data.to));
    expect(lapsed).toEqual(["p_hanne"]);
    const { offers } = accountOf(bench.desk.events.get(id)!)!;
    expect(offers.map((o) => [o.person, o.how])).toEqual([
      ["p_hanne", "gone"],
      ["p_hanne", "lapsed"],
    ]);
    expect(offers[0]!.endedAt).toBe(offers[1]!.at);
  });
});
