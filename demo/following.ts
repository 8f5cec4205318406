import { book, slotsFor } from "../core/desk/book.ts";
import { bought, doTask, startCadence, steerRun } from "../core/desk/cadence.ts";
import { calledIn } from "../core/desk/call.ts";
import { hearFrom, unsubscribe } from "../core/desk/hear.ts";
import type { Plan } from "../core/desk/plan.ts";
import { setNextStep } from "../core/desk/work.ts";
import type { Lead } from "../core/lead/lead.ts";
import type { Desk } from "../server/desk.ts";
import type { Chance } from "./chance.ts";

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

const REPLIES = [
  "Sorry, I was travelling. Tomorrow after five suits me.",
  "Thanks for staying with it. Could you send the footprint once more?",
  "Yes, still interested. Call me on Thursday?",
  "We have 220 V at the deck now. What is next?",
];

/** What a history lends to what follows up in it. */
export interface Following {
  readonly desk: Desk;
  readonly at: (when: number, run: () => void) => void;
  readonly now: () => number;
  /** Somebody calls the lead then. */
  readonly callAt: (when: number, leadId: string, personId: string) => void;
}

/**
 * How people and leads live with cadences in the made-up history: calls of a cadence are made, some messages are answered,
 * some opt out, some book or buy, and now and then somebody stops one by hand. It has a chance of its own, so that it moves
 * nothing else.
 */
export function followUp({ desk, at, now, callAt }: Following, chance: Chance): void {
  const lead = (id: string): Lead | null => desk.looker.lead(id);
  const act = desk.act.bind(desk);

  const hears = (leadId: string, channel: "email" | "text") => {
    const kind = chance.weighted({ nothing: 79, reply: 9, stop: 1, book: 3, call: 4, later: 4 });
    if (kind === "nothing") return;
    at(now() + 20 * MINUTE + chance.wait(5 * HOUR), () => {
      const them = lead(leadId);
      const from = channel === "email" ? them?.emails[0] : them?.phones[0];
      if (!them || them.closed || !from) return;
      if (kind === "reply" || kind === "later") {
        act(leadId, (w) => hearFrom(w, { channel, from, subject: null, body: chance.pick(REPLIES) }));
        if (them.ownerId) callAt(now() + 6 * MINUTE + chance.wait(40 * MINUTE), leadId, them.ownerId);
      } else if (kind === "stop") {
        if (channel === "email") act(leadId, unsubscribe);
        else act(leadId, (w) => hearFrom(w, { channel, from, subject: null, body: "STOP" }));
      } else if (kind === "call" && them.phones[0]) {
        const call = { callId: `in_${leadId}_${now()}`, line: "+17205550100", from: them.phones[0] };
        act(leadId, (w) =>
          calledIn(w, { ...call, result: "missed", seconds: 0, recording: null, personId: null }),
        );
        if (them.ownerId) callAt(now() + 4 * MINUTE + chance.wait(20 * MINUTE), leadId, them.ownerId);
      } else {
        const slots = slotsFor(desk.look(leadId));
        const slot = slots[Math.min(slots.length - 1, 6)];
        if (slot) act(leadId, (w) => book(w, slot.at));
      }
    });
  };

  const heed = ({ leadId, events, after }: Plan) => {
    for (const event of events) {
      if (event.kind === "next-step" && event.data.step?.touch && event.actor.kind === "desk") {
        const { dueAt, personId } = event.data.step;
        if (personId) callAt(dueAt + chance.wait(chance.hits(0.04) ? DAY : 40 * MINUTE), leadId, personId);
      }
      if (event.kind === "message-out" && event.data.auto && after.cadences.some((r) => !r.ended))
        hears(leadId, event.data.channel);
      if (event.kind === "task-set") {
        const { id, to } = event.data.task;
        if (to[0])
          at(event.at + 2 * HOUR + chance.wait(DAY), () => void act(leadId, (w) => doTask(w, to[0]!, id)));
      }
      if (event.kind === "tried" && event.data.reached) afterTalk(leadId, event.data.personId, after);
      if (event.kind === "cadence-started" && chance.hits(0.06)) byHand(leadId, after, event.data.run.id);
    }
  };

  /** A talk went well: it is followed up by a cadence, or has ended in an order. */
  const afterTalk = (leadId: string, personId: string, after: Lead) => {
    const what = chance.weighted({ nothing: 58, follow: 30, buys: after.tries >= 2 ? 12 : 4 });
    if (what === "nothing") return;
    at(now() + 3 * MINUTE, () => {
      if (lead(leadId)?.closed) return;
      if (what === "buys") act(leadId, (w) => bought(w, personId, null));
      else act(leadId, (w) => startCadence(w, personId, { cadenceId: "cad_after_talk" }));
    });
  };

  const byHand = (leadId: string, after: Lead, runId: string) => {
    const by = after.ownerId ?? "p_ines";
    at(now() + DAY + chance.wait(3 * DAY), () => {
      const run = lead(leadId)?.cadences.find((r) => r.id === runId);
      if (!run || run.ended || lead(leadId)?.closed) return;
      const until = now() + 5 * DAY;
      if (chance.hits(0.5)) {
        act(leadId, (w) => steerRun(w, by, runId, { do: "pause", until, reason: "On holiday" }));
        return;
      }
      act(leadId, (w) => steerRun(w, by, runId, { do: "stop", reason: "They asked for quiet" }));
      if (lead(leadId)?.parked) return;
      const dueAt = now() + 6 * DAY;
      act(leadId, (w) => setNextStep(w, by, { kind: "call", note: "A quiet call", dueAt }));
      callAt(dueAt + chance.wait(HOUR), leadId, by);
    });
  };

  desk.onPlan(heed);
}
