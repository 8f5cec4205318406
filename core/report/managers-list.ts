import type { Lead } from "../lead/lead.ts";
import type { BellKind } from "../policy/bells.ts";
import { nameOf, type Setup } from "../policy/setup.ts";
import { dayTime } from "../time/words.ts";
import { bellWords } from "../words/bells.ts";

/** Parts of the manager's list, in the order a manager works them. */
export const LIST_PARTS = {
  rung: "Ringing now",
  passed: "Nobody took it",
  nobody: "Waits for somebody on duty",
  stuck: "Stuck with somebody",
  stalled: "Tries have stopped",
  look: "Parked, to look at again",
} as const;
export type ListPart = keyof typeof LIST_PARTS;

/** Why a lead is on the manager's list, and since when (epoch ms). */
export interface OnList {
  readonly part: ListPart;
  readonly why: string;
  readonly since: number;
}

/** Where on the manager's list an open lead belongs, by what hurts most; null when it needs no manager. */
export function onList(lead: Lead, setup: Setup, now: number): OnList | null {
  if (lead.closed) return null;
  const { bell, listed } = lead;
  const rung = (kinds: readonly string[]) =>
    lead.others.find((b) => b.state === "rung" && kinds.includes(b.kind));
  const said = (kind: BellKind) => bellWords(kind, lead, setup, now);
  if (bell?.state === "rung")
    return {
      part: "rung",
      why: listed ? `${said("inquiry")}; ${listed.reason}` : said("inquiry"),
      since: bell.dueAt,
    };
  const waits = rung(["reply", "promise"]);
  if (waits) return { part: "rung", why: said(waits.kind), since: waits.dueAt };
  if (listed && lead.parked) return { part: "look", why: listed.reason, since: listed.at };
  if (listed && !lead.ownerId)
    return listed.retryAt === null
      ? { part: "passed", why: listed.reason, since: listed.at }
      : {
          part: "nobody",
          why: `${listed.reason}; asked again ${dayTime(listed.retryAt, setup.policies.desk.zone, now)}`,
          since: listed.at,
        };
  const stalled = rung(["stalled"]);
  if (stalled) return { part: "stalled", why: said("stalled"), since: stalled.dueAt };
  const stuck = rung(["untried", "overdue", "aimless"]);
  if (stuck) return { part: "stuck", why: said(stuck.kind), since: stuck.dueAt };
  if (listed)
    return { part: "stuck", why: `${listed.reason}, with ${nameOf(setup, lead.ownerId)}`, since: listed.at };
  return null;
}

/** Ages open leads are counted by: from so many days on, the youngest first. */
export const AGES = [
  { name: "a day at most", days: 0 },
  { name: "up to a week", days: 1 },
  { name: "up to a month", days: 7 },
  { name: "up to three months", days: 30 },
  { name: "longer", days: 91 },
] as const;
