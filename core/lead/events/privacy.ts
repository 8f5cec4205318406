import { timeBeside } from "../../time/words.ts";
import { NOTHING_WAITS } from "../changes.ts";
import { event } from "../event.ts";
import { isWaiting, type Lead } from "../lead.ts";
import { zoneOf } from "./words.ts";

/** What a lead is closed as that is to be erased. */
export const ERASING = "To be erased";

/** Nothing is to happen about them any more. */
const nothing = (lead: Lead, at: number) => ({
  ...NOTHING_WAITS,
  tasks: [],
  booked: null,
  asked: [],
  handOff: lead.handOff?.state === "taken" ? lead.handOff : null,
  closed: lead.closed ?? { reason: ERASING, at },
  customer: null,
  bell: isWaiting(lead) && lead.bell ? { ...lead.bell, state: "excused" as const, excusedAt: at } : lead.bell,
});

/** Somebody's data, and its end. */
export const PRIVACY = {
  /** They are to be erased at night; until then it can be taken back. */
  "erase-asked": event<{ readonly because: string; readonly dueAt: number }>({
    talk: true,
    undone: "asking for it to be erased",
    untoldToRouting: true,
    fold: (lead, { dueAt }, { at }) => ({ ...nothing(lead, at), erasing: { dueAt } }),
    said: ({ because, dueAt }, setup, { at }) =>
      `To be erased ${timeBeside(dueAt, zoneOf(setup), at)}${because ? `: ${because}` : ""}`,
  }),

  /** They are not erased after all, though it cannot simply be undone: it is on the manager's list. */
  "erase-dropped": event<{ readonly reason: string }>({
    talk: true,
    untoldToRouting: true,
    fold: (lead) => ({
      erasing: null,
      closed: lead.closed?.reason === ERASING ? null : lead.closed,
    }),
    said: ({ reason }) => `Not erased: ${reason}`,
  }),

  /** All that named them is gone. */
  erased: event<Record<string, never>>({
    final: true,
    untoldToRouting: true,
    fold: (lead, _data, { at }) => ({
      ...nothing(lead, at),
      erasing: null,
      erased: { at },
      handedOver: null,
    }),
    said: () => "Everything that named them was erased",
  }),
};
