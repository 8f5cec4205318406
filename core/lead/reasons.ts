import type { OtherBellKind } from "../policy/bells.ts";
import { isWaiting, type Lead, type OtherBell } from "./lead.ts";

/** Why a bell beside the response bell runs: the moment that made its reason, and from when its minutes count. */
export interface Reason {
  readonly since: number;
  readonly from: number;
}

/** Nobody need do anything now: it is closed, parked, or worked as another lead. */
const atRest = (lead: Lead) => lead.closed !== null || lead.parked !== null || lead.joinedTo !== null;

/** Something is planned for it: a cadence goes on, or will. One that pauses until somebody says so plans nothing. */
const isPlanned = (lead: Lead) =>
  lead.cadences.some((r) => !r.ended && !(r.pause?.why === "person" && r.pause.until === null));

type Finder = (lead: Lead) => Reason | null;
const at = (moment: number | null | undefined): Reason | null =>
  moment === null || moment === undefined ? null : { since: moment, from: moment };

/**
 * What makes each kind of bell run, from the lead's state alone. While the response bell runs it is what counts, so
 * those about trying and planning wait for it.
 */
const FINDERS: Readonly<Record<OtherBellKind, Finder>> = {
  /** Somebody has it, and has not tried since they got it. */
  untried: (lead) => (isUntried(lead) ? at(lead.ownedSince) : null),
  /** They wrote or called, and nobody has answered. */
  reply: (lead) => at(lead.replyWaiting ?? lead.callBack),
  /** The next step's time has come and it is not done. */
  overdue: (lead) => at(lead.nextStep?.dueAt),
  promise: (lead) => at(lead.promise?.at),
  /** Tried, not reached, and not tried again: however often the next step was put off. */
  stalled: (lead) =>
    lead.ownerId && !lead.customer && !isWaiting(lead) && !lead.reached && lead.fruitless > 0
      ? at(lead.lastTryAt)
      : null,
  /** Open, and nothing is planned: `since` is when that was noticed. */
  aimless: (lead) => (isAimless(lead) ? at(lead.lastActivityAt) : null),
};

function isUntried(lead: Lead): boolean {
  if (!lead.ownerId || lead.customer || isWaiting(lead)) return false;
  const since = lead.ownedSince ?? 0;
  const excused = lead.bell?.excusedAt ?? null;
  return (lead.lastTryAt === null || lead.lastTryAt < since) && (excused === null || excused < since);
}

function isAimless(lead: Lead): boolean {
  return (
    lead.ownerId !== null &&
    !lead.customer &&
    !isPlanned(lead) &&
    !isWaiting(lead) &&
    !isUntried(lead) &&
    lead.nextStep === null &&
    lead.booked === null &&
    lead.listed === null &&
    lead.replyWaiting === null
  );
}

/** Why a bell of that kind should run for the lead; null when it has no reason to. */
export function reasonFor(kind: OtherBellKind, lead: Lead): Reason | null {
  return atRest(lead) ? null : FINDERS[kind](lead);
}

/** Whether the reason a bell was started for is still there. */
export function reasonHolds(bell: Pick<OtherBell, "kind" | "since">, lead: Lead): boolean {
  const reason = reasonFor(bell.kind, lead);
  // That nothing is planned has no moment of its own: it holds as long as it is so.
  return reason !== null && (bell.kind === "aimless" || reason.since === bell.since);
}
