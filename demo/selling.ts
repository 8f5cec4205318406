import { isDeal } from "../core/book/records.ts";
import { changeDeal } from "../core/desk/deals.ts";
import { answerEstimate, sendEstimate } from "../core/desk/estimates.ts";
import { candidates, handOver } from "../core/desk/hand-over.ts";
import { addNote, answerColleague } from "../core/desk/notes.ts";
import { answerQuestions, moveStage } from "../core/desk/stage.ts";
import type { Lead } from "../core/lead/lead.ts";
import { calendarAround } from "../core/policy/people.ts";
import { nextOpening } from "../core/time/calendar.ts";
import { localDate } from "../core/time/words.ts";
import type { Desk } from "../server/desk.ts";
import type { Chance } from "./chance.ts";

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

const LOST = { Price: 4, "Went elsewhere": 3 };
const NONE = { "Put off": 3, "Gone quiet": 2 };
const NEXT = [
  "Ask what they think of the price",
  "Call when both are home",
  "Send the drawings for the foundation",
  "Ask whether the permit is there",
];
const ASKED = [
  "@Tomasz can we deliver up that road in March?",
  "@Greta may I go to eight percent here?",
  "@Ines do you remember which show they came from?",
];

interface Selling {
  readonly desk: Desk;
  readonly at: (when: number, run: () => Promise<void> | void) => void;
  readonly now: () => number;
}

/**
 * How people qualify, price and sell in the made-up history: questions are answered over a few talks, some leads become
 * deals, and those are won, lost or put off in their own time. It has a chance of its own, so that it moves nothing else.
 */
export function sell({ desk, at, now }: Selling, chance: Chance): void {
  const begun = new Set<string>();
  const { zone } = desk.setup.policies.desk;
  const below = (n: number) => Math.floor(chance.next() * n);
  const lead = (id: string): Lead | null => desk.looker.lead(id);

  /** At a time when the desk is open, after about so long. */
  const soon = (mean: number, run: () => Promise<void> | void) => {
    const then = Math.floor(now() + 5 * MINUTE + chance.wait(mean));
    at(
      (nextOpening(calendarAround(desk.setup.policies.desk, then), then) ?? then) + chance.wait(20 * MINUTE),
      run,
    );
  };

  const answers = (them: Lead, share: number): Record<string, string> => {
    const lodge = them.facts.product === "lodge";
    const all: Record<string, string> = {
      "own.power": chance.weighted({ "240 V there": 5, "240 V possible": 3, none: 1 }),
      "own.budget": String(lodge ? 20_000 + below(8) * 5_000 : 2_500 + below(16) * 1_000),
      "own.wanted_by": localDate(now() + (40 + below(120)) * DAY, zone),
      "own.footprint": chance.pick(["8 by 10 feet", "a deck, 12 by 12", "beside the pool", "6 by 8, level"]),
      ...(lodge && {
        "own.units": String(2 + below(7)),
        "own.permit": chance.weighted({ yes: 2, no: 3 }),
      }),
    };
    return Object.fromEntries(Object.entries(all).filter(() => chance.hits(share)));
  };

  const missing = (them: Lead): Record<string, string> => {
    const lodge = them.facts.product === "lodge";
    return {
      ...answers(them, 1),
      ...(!them.facts.product && { product: "barrel" }),
      ...(!them.facts.postalCode && { postal_code: "80301" }),
      ...(lodge &&
        !them.company && {
          company: chance.pick(["Tamarack House", "Silver Fir Lodge", "The Boathouse", "Willow Bend Inn"]),
        }),
    };
  };

  const talk = (leadId: string) => {
    const them = lead(leadId);
    if (!them?.ownerId || them.closed || them.parked || them.customer) return;
    const by = them.ownerId;
    desk.act(leadId, (w) => answerQuestions(w, by, answers(them, 0.55)));
    if (chance.hits(0.12)) ask(leadId, by);
    if (chance.hits(0.62)) soon(1.2 * DAY, () => qualify(leadId));
  };

  const ask = (leadId: string, by: string) => {
    desk.act(leadId, (w) => addNote(w, by, chance.pick(ASKED), true));
    if (!chance.hits(0.85)) return;
    soon(3 * HOUR, () => {
      const open = lead(leadId)?.asked[0];
      if (open)
        desk.act(leadId, (w) =>
          answerColleague(
            w,
            open.to[0]!,
            open.noteId,
            chance.pick(["Yes, that works.", "Up to six, not more.", "Ask me tomorrow, I look it up."]),
          ),
        );
    });
  };

  const qualify = (leadId: string) => {
    const them = lead(leadId);
    if (!them?.ownerId || them.closed || them.parked || them.customer) return;
    const by = them.ownerId;
    const moved = desk.act(leadId, (w) =>
      moveStage(w, by, { stage: "Qualified", answers: missing(them), mover: false }),
    );
    if (!moved.ok) return;
    if (chance.hits(0.85)) soon(0.8 * DAY, () => over(leadId));
  };

  const over = (leadId: string) => {
    const them = lead(leadId);
    if (!them?.ownerId || them.closed || them.parked) return;
    const by = them.ownerId;
    const known = candidates(desk.look(leadId), them);
    const expectedOn = localDate(now() + (10 + below(40)) * DAY, zone);
    const company = known.companies[0]
      ? { id: known.companies[0].id }
      : them.company
        ? { name: them.company }
        : null;
    const contact = known.contacts[0] ? { id: known.contacts[0].id } : {};
    const done = desk.act(leadId, (w) => handOver(w, by, { company, contact, deal: { expectedOn } }));
    const dealId = done.ok ? done.plan.after.handedOver?.dealId : null;
    if (!dealId) return;
    plan(leadId, dealId, by, "Send the estimate", 0.6 * DAY);
    soon(0.7 * DAY, () => price(leadId, dealId, by));
  };

  const price = async (leadId: string, dealId: string, by: string) => {
    const them = lead(leadId);
    if (!them) return;
    if (chance.hits(0.9)) {
      const lodge = them.facts.product === "lodge";
      const inputs: Record<string, string> = lodge
        ? { units: String(2 + below(7)), site: String(4_000 + below(8) * 500) }
        : { miles: String(20 + below(30) * 10), discount: chance.weighted({ "0": 5, "5": 2, "8": 1 }) };
      const made = await desk.estimates.make(leadId, by, {
        worksheet: lodge ? "ws_lodge" : "ws_sauna",
        inputs,
      });
      if (made.ok) {
        const { id, total } = made.estimate;
        const link = desk.links.estimate(id);
        desk.act(leadId, (w) =>
          sendEstimate(w, by, id, {
            body: `Hello ${them.name ?? ""}, here is what we talked about, delivered and set up.\n\nSee it and answer here: ${link}`,
          }),
        );
        desk.actBook(leadId, (w) => changeDeal(w, by, dealId, { value: total / 100 }));
        if (chance.hits(0.3))
          soon(2 * DAY, () => {
            desk.act(leadId, (w) =>
              answerEstimate(w, null, id, { answer: "accepted", name: them.name ?? "They" }),
            );
          });
      }
    }
    soon(4.5 * DAY, () => decide(leadId, dealId, by));
  };

  /** Somebody plans what comes next, and mostly does it in time. */
  const plan = (leadId: string, dealId: string, by: string, note: string, mean: number) => {
    const deal = desk.looker.book.record(dealId);
    if (!isDeal(deal) || deal.closed) return;
    const then = Math.floor(now() + 0.7 * DAY + chance.wait(mean));
    const dueAt = nextOpening(calendarAround(desk.setup.policies.desk, then), then) ?? then;
    desk.actBook(leadId, (w) => changeDeal(w, by, dealId, { nextStep: { note, dueAt } }));
    if (!chance.hits(0.9)) return;
    at(dueAt + chance.wait(2 * HOUR), () => plan(leadId, dealId, by, chance.pick(NEXT), 3 * DAY));
  };

  const decide = (leadId: string, dealId: string, by: string) => {
    const deal = desk.looker.book.record(dealId);
    if (!isDeal(deal) || deal.closed) return;
    const move = (stage: string, reason?: string) =>
      desk.actBook(leadId, (w) => changeDeal(w, by, dealId, { stage, reason }));
    if (deal.stage !== "Deciding") {
      move("Deciding");
      plan(leadId, dealId, by, "Ask what they think of the price", 2 * DAY);
      soon(4 * DAY, () => decide(leadId, dealId, by));
      return;
    }
    if (chance.hits(0.25)) {
      soon(5 * DAY, () => decide(leadId, dealId, by));
      return;
    }
    const end = chance.weighted({ Won: 42, Lost: 36, "No decision": 22 });
    if (end === "Won") move("Won", "Signed");
    else if (end === "Lost") move("Lost", chance.weighted(LOST));
    else move("No decision", chance.weighted(NONE));
  };

  desk.onPlan((plan) => {
    if (plan.after.test || begun.has(plan.leadId)) return;
    if (!plan.events.some((e) => e.kind === "tried" && e.data.reached)) return;
    begun.add(plan.leadId);
    if (chance.hits(0.5)) soon(25 * MINUTE, () => talk(plan.leadId));
  });
}
