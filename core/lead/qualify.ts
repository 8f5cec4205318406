import { evaluate } from "../condition/condition.ts";
import type { Facts, FieldValue } from "../condition/tree.ts";
import { type AskKey, askName, askOf } from "../policy/asks.ts";
import type { Points, Question, QuestionSet } from "../policy/questions.ts";
import type { Policies, Setup } from "../policy/setup.ts";
import { DEAL_ASKS, type Stage } from "../policy/stages.ts";
import type { Lead } from "./lead.ts";

/** What is known of something that can be asked for; null when nothing is. */
export function answerTo(lead: Lead, ask: AskKey): FieldValue {
  const { facts } = lead;
  if (ask.startsWith("own.")) {
    const own = Object.hasOwn(facts.own, ask.slice(4)) ? facts.own[ask.slice(4)]! : "";
    if (typeof own === "boolean") return own ? "yes" : "no";
    return own === "" || (typeof own === "object" && own.length === 0) ? null : own;
  }
  if (ask.startsWith("answer.")) {
    const name = ask.slice("answer.".length);
    return Object.hasOwn(facts.answers, name) ? facts.answers[name]! || null : null;
  }
  const some = (list: readonly string[]) => (list.length > 0 ? list : null);
  switch (ask) {
    case "name":
    case "company":
      return lead[ask] || null;
    case "email":
      return some(lead.emails);
    case "phone":
      return some(lead.phones);
    case "tag":
      return some(lead.tags);
    case "postal_code":
      return facts.postalCode;
    case "product":
    case "message":
    case "address":
    case "preferred":
    case "detail":
    case "territory":
    case "language":
      return facts[ask] || null;
    default:
      return null;
  }
}

/** The question sets a lead is asked by. */
export function setsFor(setup: Setup, facts: Facts): readonly QuestionSet[] {
  return setup.policies.questionSets.filter((set) => !set.when || evaluate(set.when, facts));
}

/** The questions of a set that are asked of a lead: follow-ups only where their answer calls for them. */
export const askedIn = (set: QuestionSet, facts: Facts): readonly Question[] =>
  set.questions.filter((q) => !q.when || evaluate(q.when, facts));

/** What must be known before a lead enters a stage: what the stage asks, and what questions are required for it. */
export function asksFor(setup: Setup, facts: Facts, stage: Stage): readonly AskKey[] {
  const { policies } = setup;
  const own = stage.asks.flatMap((field) => {
    const ask = askOf(policies, field);
    return ask && !Object.hasOwn(DEAL_ASKS, ask) ? [ask as AskKey] : [];
  });
  const questions = setsFor(setup, facts)
    .flatMap((set) => askedIn(set, facts))
    .filter((q) => q.requiredFor === stage.key)
    .map((q) => q.field);
  return [...new Set([...own, ...questions])];
}

/** What is missing of that, with what each is called. */
export function missingFor(
  setup: Setup,
  lead: Lead,
  facts: Facts,
  stage: Stage,
): readonly { readonly field: AskKey; readonly name: string }[] {
  return asksFor(setup, facts, stage)
    .filter((ask) => answerTo(lead, ask) === null)
    .map((field) => ({ field, name: askName(setup.policies, field) }));
}

/** One answer that counts, with the points it gives. */
export interface Scored {
  readonly field: AskKey;
  readonly name: string;
  readonly answer: string;
  readonly points: number;
}

export interface Score {
  readonly points: number;
  readonly made: readonly Scored[];
}

function pointsFor(points: readonly Points[], answer: FieldValue): number | null {
  const said = (Array.isArray(answer) ? answer : [answer]).map((a) => String(a).trim().toLowerCase());
  const number = typeof answer === "number" ? answer : Number(said[0] || Number.NaN);
  const found = points.find(({ is, atLeast, atMost }) =>
    is && is.length > 0
      ? is.some((word) => said.includes(word.trim().toLowerCase()))
      : (atLeast !== undefined || atMost !== undefined) &&
        number >= (atLeast ?? Number.NEGATIVE_INFINITY) &&
        number <= (atMost ?? Number.POSITIVE_INFINITY),
  );
  return found?.points ?? null;
}

/** The score of a lead by its answers, and what it is made of; null where no question gives points. A fact counts once. */
export function scoreOf(setup: Setup, lead: Lead, facts: Facts): Score | null {
  if (!givesPoints(setup.policies)) return null;
  const made = new Map<AskKey, Scored>();
  let counts = false;
  for (const set of setsFor(setup, facts))
    for (const { field, points } of askedIn(set, facts)) {
      if (points.length === 0 || made.has(field)) continue;
      counts = true;
      const answer = answerTo(lead, field);
      const given = answer === null ? null : pointsFor(points, answer);
      if (given !== null)
        made.set(field, {
          field,
          name: askName(setup.policies, field),
          answer: Array.isArray(answer) ? answer.join(", ") : String(answer),
          points: given,
        });
    }
  if (!counts) return null;
  const all = [...made.values()];
  return { points: all.reduce((sum, { points }) => sum + points, 0), made: all };
}

const givesPoints = ({ questionSets }: Policies) =>
  questionSets.some((set) => set.questions.some((q) => q.points.length > 0));
