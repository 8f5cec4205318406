import { nameOf } from "../../policy/setup.ts";
import type { RotationState, TurnTaken } from "../../rotation/turns.ts";
import { timeBeside } from "../../time/words.ts";
import { STAGE } from "../../vocabulary.ts";
import { event } from "../event.ts";
import type { Lead } from "../lead.ts";
import { union } from "../together.ts";
import { list, zoneOf } from "./words.ts";

/** An open call goes on for the others; an offer to one is over. */
function withoutPerson(lead: Lead, personId: string): Lead["handOff"] {
  if (lead.handOff?.state !== "open") return null;
  const to = lead.handOff.to.filter((id) => id !== personId);
  return to.length > 0 ? { ...lead.handOff, to } : null;
}

/** Who has it: offered, taken, passed, given. */
export const HANDS = {
  offered: event<{
    readonly handOffId: string;
    readonly to: readonly string[];
    readonly until: number;
    /** When they were asked; offers of before it was kept say nothing. */
    readonly askedAt?: number;
    readonly open: boolean;
    readonly by: string;
    readonly ruleId?: string;
    readonly groupId?: string;
    /** The turn it cost, where a rotation chose. */
    readonly turn?: TurnTaken & { readonly before: RotationState };
  }>({
    final: true,
    fold: (_lead, { handOffId, to, until, open, turn, askedAt }) => ({
      parked: null,
      handOff: { id: handOffId, state: open ? "open" : "offered", to, until, ...(askedAt && { askedAt }) },
      turn: turn ? { groupId: turn.groupId, personId: turn.personId, gains: turn.gains } : null,
      coversFor: null,
      ownerId: null,
      listed: null,
    }),
    said: ({ to, until, open, by }, setup, { at }) =>
      `${open ? "Open call to" : "Offered to"} ${list(setup, to)} until ${timeBeside(until, zoneOf(setup), at)} (${by})`,
  }),

  taken: event<{ readonly personId: string }>({
    undone: "taking it",
    fold: (lead, { personId }, { id, at }) => ({
      parked: null,
      ownerId: personId,
      // Who takes it first has the credit, until somebody agrees otherwise.
      creditId: lead.creditId ?? personId,
      lastOwner: { personId, at },
      coversFor: null,
      handOff: { id: lead.handOff?.id ?? id, state: "taken", to: [personId], until: null },
      listed: null,
      stage: lead.stage === STAGE.fresh ? STAGE.tried : lead.stage,
    }),
    said: ({ personId }, setup) => `${nameOf(setup, personId)} took it`,
  }),

  /** `turnBack`: they have the turn again. */
  passed: event<{ readonly personId: string; readonly reason: string; readonly turnBack?: true }>({
    talk: true,
    fold: (lead, { personId }) => ({
      ownerId: lead.ownerId === personId ? null : lead.ownerId,
      listed: null,
      handOff: withoutPerson(lead, personId),
      turn: lead.turn?.personId === personId ? null : lead.turn,
      coversFor: null,
      refused: union(lead.refused, [personId]),
    }),
    said: ({ personId, reason, turnBack }, setup) =>
      `${nameOf(setup, personId)} passed: ${reason}${turnBack ? "; the next turn is theirs again" : ""}`,
  }),

  /** `taken`: they had it, and it was taken back since nobody tried. */
  lapsed: event<{ readonly to: readonly string[]; readonly turnBack?: true; readonly taken?: true }>({
    fold: (lead, { to }) => ({ handOff: null, turn: null, refused: union(lead.refused, to) }),
    said: ({ to, taken }, setup) =>
      taken
        ? `Taken back from ${list(setup, to)}: nobody had tried`
        : `Not taken in time by ${list(setup, to)}`,
  }),

  given: event<{
    readonly to: string;
    readonly reason: string;
    readonly from: string | null;
    /** Only while that person is away. */
    readonly coversFor?: string;
    /** The next step stays with whoever it was for; it moves along when left out. */
    readonly steps?: "stay";
    /** Where nobody gave it by hand. */
    readonly standby?: true;
  }>({
    talk: true,
    undone: "the hand-off",
    fold: (lead, { to, coversFor, standby, steps }, { id, at }) => ({
      parked: null,
      nextStep: lead.nextStep && (steps === "stay" ? lead.nextStep : { ...lead.nextStep, personId: to }),
      ownerId: to,
      // Whoever only stands in has no claim to it.
      creditId: lead.creditId ?? (coversFor || standby ? null : to),
      lastOwner: { personId: to, at },
      coversFor: coversFor ?? null,
      handOff: { id, state: "taken", to: [to], until: null },
      listed: null,
      stage: lead.stage === STAGE.fresh ? STAGE.tried : lead.stage,
    }),
    said: ({ to, from, reason }, setup) =>
      `Given to ${nameOf(setup, to)}${from && from !== to ? `, was with ${nameOf(setup, from)}` : ""}: ${reason}`,
  }),

  /** Whoever passed or let it lapse may be asked again: all had. */
  "asked-anew": event<Record<string, never>>({
    fold: () => ({ refused: [] }),
    said: () => "All had refused: everybody may be asked again",
  }),

  /** Who it belongs to by agreement, whoever works it. */
  credited: event<{ readonly to: string | null; readonly reason: string }>({
    fold: (_lead, { to }) => ({ creditId: to }),
    said: ({ to, reason }, setup) =>
      `${to ? `The credit is ${nameOf(setup, to)}’s` : "Nobody has the credit"}${reason ? `: ${reason}` : ""}`,
  }),

  /** A lead that was none: whoever had it has the turn again. */
  "turn-credited": event<{ readonly personId: string; readonly groupId: string; readonly reason: string }>({
    fold: () => ({ turn: null }),
    said: ({ personId, reason }, setup) => `${nameOf(setup, personId)} has the turn again: ${reason}`,
  }),

  listed: event<{ readonly reason: string; readonly retryAt: number | null }>({
    fold: (lead, { reason, retryAt }, { at }) => ({
      listed: { reason, at, retryAt },
      handOff: lead.handOff?.state === "taken" ? lead.handOff : null,
    }),
    said: ({ reason, retryAt }, setup, { at }) =>
      `On the manager's list: ${reason}${retryAt ? `; asked again ${timeBeside(retryAt, zoneOf(setup), at)}` : ""}`,
  }),
};
