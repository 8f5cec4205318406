import { type Setup, withStep } from "../policy/setup.ts";
import { refuse } from "../refusal.ts";
import type { Changed } from "./change.ts";
import { put } from "./change-company.ts";

/** What a new desk lacks before the first inquiry goes its whole way, in the order one does it. */
export const FIRST_STEPS = {
  company: {
    title: "Say who you are",
    gives: "Mails and forms carry your name, and numbers are dialled from your country.",
    href: "/setup/company",
  },
  hours: {
    title: "Say when the desk is open",
    gives: "Minutes count while you are open; nothing rings at night.",
    href: "/setup/hours",
  },
  mail: {
    title: "Let mail out",
    gives:
      "Replies, invitations and alerts leave. Until then they wait, and your people see leads on their Desk alone.",
    href: "/setup/ways",
  },
  people: {
    title: "Bring in your people",
    gives: "Leads are offered to them. Invite them by mail, or hand them a link.",
    href: "/setup/people",
  },
  products: {
    title: "Name what you sell",
    gives: "Leads go to whoever sells what they ask for.",
    href: "/setup/products",
  },
  territories: {
    title: "Tell places apart",
    gives: "Leads go to whoever covers where they are, and are called when it is day there.",
    href: "/setup/territories",
  },
  source: {
    title: "Open a source",
    gives: "Inquiries come in: a form takes five minutes.",
    href: "/setup",
  },
  replies: {
    title: "Answer at once",
    gives: "Whoever writes hears from you within the minute, day and night.",
    href: "/setup/replies",
  },
  tried: {
    title: "Send a test through it",
    gives: "You see what a lead gets, and what your people get. Only you are told, and it wipes itself.",
    href: "/setup",
  },
} as const satisfies Record<
  string,
  { readonly title: string; readonly gives: string; readonly href: string | null }
>;

export type FirstStep = keyof typeof FIRST_STEPS;
/** Steps that are done once somebody says that it is right as it stands. */
const AS_IT_STANDS: ReadonlySet<FirstStep> = new Set(["company", "hours"]);
/** Steps a company may do without, once somebody says so. */
const SPARED: ReadonlySet<FirstStep> = new Set(["mail", "products", "territories", "replies", "tried"]);

/** What cannot be read off the set-up. */
export interface Around {
  /** Why mail does not leave, in words; null when it does. */
  readonly mailUnset: string | null;
  /** Whether anything has come through a source other than by hand, tests included. */
  readonly hasInquired: boolean;
}

export interface StepState {
  readonly key: FirstStep;
  readonly done: boolean;
  /** Somebody said that they do without it. */
  readonly spared: boolean;
  /** How somebody may say that it needs nothing, in words; null when every desk needs it. */
  readonly otherwise: string | null;
  /** What is missing, in words, when that is not plain. */
  readonly lacks: string | null;
}

/** Where each of the first steps stands. Never throws. */
export function firstSteps(setup: Setup, { mailUnset, hasInquired }: Around): readonly StepState[] {
  const { policies, people, groups, sources } = setup;
  const settled = new Set(policies.settled);
  const able = people.filter((p) => !p.left && p.role === "salesperson");
  const placed = able.filter((p) => groups.some((g) => g.members.some((m) => m.personId === p.id)));
  const comesIn = sources.filter((s) => s.state === "live" && s.channel !== "hand");
  const replies = [policies.replies.usual, ...sources.flatMap((s) => s.reply ?? [])];
  const done: Readonly<Record<FirstStep, boolean>> = {
    company: settled.has("company"),
    hours: settled.has("hours"),
    mail: mailUnset === null,
    people: placed.length > 0,
    products: policies.products.length > 0,
    territories: policies.territories.length > 0,
    source: comesIn.length > 0,
    replies: replies.some((r) => r.email.on || r.text.on),
    tried: hasInquired || settled.has("tried"),
  };
  const lacks: Partial<Record<FirstStep, string>> = {
    ...(mailUnset && { mail: mailUnset }),
    ...(able.length > 0 &&
      placed.length === 0 && { people: "Nobody of them is in a group yet, so nothing is offered to them." }),
  };
  return (Object.keys(FIRST_STEPS) as FirstStep[]).map((key) => ({
    key,
    done: done[key],
    spared: !done[key] && SPARED.has(key) && settled.has(key),
    otherwise: AS_IT_STANDS.has(key) ? "It is right as it stands" : SPARED.has(key) ? "We do without" : null,
    lacks: done[key] ? null : (lacks[key] ?? null),
  }));
}

/** Say that a step is done without, or that it is wanted after all. */
export function settleStep(setup: Setup, step: string, isSettled: boolean): Changed {
  const key = step as FirstStep;
  if (!SPARED.has(key) && !AS_IT_STANDS.has(key))
    return refuse("no-such-step", 422, "No such step", "Every desk needs this one.", "step");
  return put(setup, { settled: withStep(setup.policies.settled, step, isSettled) });
}

/** The change by which a step counts as seen to. */
export const seeTo =
  (step: FirstStep) =>
  (setup: Setup): Changed =>
    put(setup, { settled: withStep(setup.policies.settled, step, true) });
