import type { EventData } from "../lead/events.ts";
import type { CadenceRun, Lead } from "../lead/lead.ts";
import { type Cadence, type CadencePlan, planOfVersion, type Touch } from "../policy/cadence.ts";
import type { Setup } from "../policy/setup.ts";
import { localDate } from "../time/words.ts";
import { type Anchor, noSooner, placeOfLead, touchAt, zoneOfLead } from "./when.ts";

const MINUTE = 60_000;

/** The cadence with that id, or undefined. */
export const cadenceOf = (setup: Setup, id: string): Cadence | undefined =>
  setup.policies.cadences.find((c) => c.id === id);

/** The plan a run goes on by; null when its version is gone. */
export const planOfRun = (setup: Setup, run: CadenceRun): CadencePlan | null =>
  planOfVersion(cadenceOf(setup, run.cadenceId), run.version);

/** What a cadence is called, also when it is gone. */
export const cadenceName = (setup: Setup, run: CadenceRun): string =>
  planOfRun(setup, run)?.name ?? cadenceOf(setup, run.cadenceId)?.live?.name ?? "a cadence no longer there";

/** Which run it is, as its events say it. */
export const headOf = (setup: Setup, run: CadenceRun) => ({
  runId: run.id,
  cadenceId: run.cadenceId,
  version: run.version,
  name: cadenceName(setup, run),
});

/** Runs that have not ended, the strongest first. */
export function openRuns(lead: Lead, setup: Setup): readonly CadenceRun[] {
  const open = lead.cadences.filter((r) => !r.ended);
  if (open.length < 2) return open;
  const rank = (r: CadenceRun) => planOfRun(setup, r)?.precedence ?? 0;
  return [...open].sort((a, b) => rank(b) - rank(a) || a.startedAt - b.startedAt);
}

/** The date a touch is reckoned around, as the lead has it; null when it is not known. */
function dateFor({ field }: Touch, lead: Lead, zone: string): string | null {
  if (!field) return null;
  if (field === "customer-since") return lead.customer ? localDate(lead.customer.since, zone) : null;
  const value = lead.facts.own[field.slice("own.".length)];
  return typeof value === "string" && /^(\d{4}-)?\d{2}-\d{2}$/.test(value) ? value : null;
}

/** From what a touch of a run is reckoned for a lead. */
export function anchorFor(
  touch: Touch,
  run: Pick<CadenceRun, "cadenceId" | "startedAt" | "lastAt" | "spreadMinutes">,
  lead: Lead,
  setup: Setup,
): Anchor {
  const { desk } = setup.policies;
  return {
    start: run.startedAt,
    before: run.lastAt,
    date: dateFor(touch, lead, desk.zone),
    leadZone: zoneOfLead(lead, setup),
    desk,
    place: placeOfLead(lead.id, run.cadenceId),
    spread: run.spreadMinutes * MINUTE,
  };
}

type Next = EventData["cadence-touched"]["next"];

/** Index of the touch a run begins again from after its last; null when it does not. */
export function againFrom(
  { then, touches }: CadencePlan,
  { round }: Pick<CadenceRun, "round">,
): number | null {
  const again = then?.again;
  if (!again || touches.length === 0 || (again.times !== null && round >= again.times)) return null;
  return Math.min(touches.length, Math.max(1, again.from)) - 1;
}

/**
 * What comes after touch `n` (0-based; −1 before the first) of a run, done at `now`: the next touch whose time can be told,
 * or null when none is left. What hangs on a date nobody knows is passed over.
 */
export function nextAfter(
  plan: CadencePlan,
  run: CadenceRun,
  lead: Lead,
  setup: Setup,
  n: number,
  now: number,
): Next | null {
  let { round, startedAt } = run;
  let at = n + 1;
  // Twice round at most: a plan in which nothing has a time ends.
  for (let passed = 0; passed <= plan.touches.length * 2; passed++) {
    if (at >= plan.touches.length) {
      const from = againFrom(plan, { round });
      if (from === null) return null;
      round++;
      at = from;
      startedAt = now;
    }
    const touch = plan.touches[at]!;
    const moment = touchAt(touch, anchorFor(touch, { ...run, startedAt, lastAt: now }, lead, setup));
    if (moment !== null) return { n: at, at: moment, kind: touch.kind, round, startedAt, lastAt: now };
    at++;
  }
  return null;
}

/** A run as it begins at `startAt`; null when nothing in it has a time. `from` is the first touch, 0-based. */
export function beginRun(
  cadence: Cadence,
  plan: CadencePlan,
  lead: Lead,
  setup: Setup,
  how: {
    readonly id: string;
    readonly startAt: number;
    readonly spreadMinutes?: number | undefined;
    readonly from?: number;
  },
): CadenceRun | null {
  const blank: CadenceRun = {
    id: how.id,
    cadenceId: cadence.id,
    name: plan.name,
    kind: "task",
    version: cadence.version,
    state: "running",
    startedAt: how.startAt,
    lastAt: how.startAt,
    n: 0,
    at: null,
    round: 0,
    waits: null,
    pause: null,
    spreadMinutes: how.spreadMinutes ?? plan.spreadMinutes,
    messageId: null,
    ended: null,
  };
  const next = nextAfter(plan, blank, lead, setup, (how.from ?? 0) - 1, how.startAt);
  if (!next) return null;
  // What is reckoned from the touch before is spread as well where it is the first: nothing before it was.
  const touch = plan.touches[next.n]!;
  const shift =
    touch.from === "before" && !touch.at
      ? Math.floor(placeOfLead(lead.id, cadence.id) * blank.spreadMinutes * MINUTE)
      : 0;
  return { ...blank, n: next.n, at: next.at! + shift, kind: next.kind, round: next.round };
}

/** When a run that was held back goes on at the earliest: where it stood, or the next moment its touch allows. */
export function onFrom(run: CadenceRun, lead: Lead, setup: Setup, now: number): number | null {
  const touch = planOfRun(setup, run)?.touches[run.n];
  if (!touch) return null;
  if (run.at !== null && run.at > now) return run.at;
  return noSooner(touch, anchorFor(touch, run, lead, setup), now);
}

/** Whether a touch becomes the lead's next step: what its owner does. */
export const isStep = (touch: Touch): boolean =>
  touch.kind === "call" || (touch.kind === "task" && (!touch.who || "owner" in touch.who));
