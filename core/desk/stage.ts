import { Temporal } from "temporal-polyfill";
import { factsOf } from "../lead/fields.ts";
import { missingFor } from "../lead/qualify.ts";
import { calendarAround } from "../policy/people.ts";
import { personOf, type Setup } from "../policy/setup.ts";
import {
  closeReasons,
  type EndKind,
  type EndReason,
  named,
  reasonsOf,
  type Stage,
  stageName,
  stagesOf,
} from "../policy/stages.ts";
import { type Problem, type Refused, refuse } from "../refusal.ts";
import { inDaysWhenOpen } from "../time/defer.ts";
import { STAGE } from "../vocabulary.ts";
import { creditTurn, routeOn } from "./hand-off.ts";
import { learnInto, type Written } from "./learn.ts";
import { parkIt } from "./park.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { leadIsClosed, nobodyByThatId, noSuchLead } from "./refusals.ts";
import { tell } from "./tell.ts";

export interface StageMove {
  /** Its key, or its name. */
  readonly stage: string;
  /** What was missing, as somebody has learnt it just now: by the fields that were named. */
  readonly answers?: Readonly<Record<string, string>> | undefined;
  /** Why it ends, for stages that are an end. */
  readonly reason?: string | undefined;
  /** Whoever moves it may move leads between people. */
  readonly mover: boolean;
}

const conflict = (code: string, title: string, detail: string, errors: Problem["errors"]): Refused => ({
  ok: false,
  problem: { code, status: 409, title, detail, ...(errors && { errors }) },
});

/** Move a lead to another of the company's stages. What is missing is named; what was answered with it is kept by the same act. */
export function moveStage(world: World, by: string, move: StageMove): Decided {
  if (!world.lead) return noSuchLead();
  if (!personOf(world.setup, by)) return nobodyByThatId();
  if (world.lead.closed) return leadIsClosed();
  const { policies } = world.setup;
  const stages = stagesOf(policies, "lead");
  const stage = named(stages, move.stage);
  if (!stage)
    return refuse(
      "no-such-stage",
      422,
      "No such stage",
      `Give one of: ${stages.map((s) => s.name).join(", ")}.`,
      "stage",
    );
  const draft = new Draft(world, { kind: "person", id: by });
  const refused = learnInto(draft, writtenBy(move.answers ?? {}));
  if (refused) return refused;
  if (stage.key === draft.lead.stage) return draft.done();
  if (stage.key === STAGE.over)
    return refuse(
      "hand-it-over",
      409,
      "Hand it over",
      `A lead comes to “${stage.name}” by handing it over: then company, contact and deal are made of it.`,
      "stage",
    );
  const wrong = notFromHere(draft, stage, move.mover) ?? lacks(draft, stage);
  if (wrong) return wrong;
  const from = draft.lead.stage;
  draft.tellHooks("lead.stage");
  if (stage.kind === "open") {
    draft.add("staged", { from, to: stage.key });
    enter(draft, stage);
    return draft.done();
  }
  const reason = endReason(reasonsOf(policies, "lead"), stage.kind, move.reason);
  if ("ok" in reason) return reason;
  const waits = answersFirst(draft, reason);
  if (waits) return waits;
  draft.add("staged", { from, to: stage.key });
  enter(draft, stage);
  endLead(draft, reason);
  return draft.done();
}

/** Facts as they are named in what a stage asks for, as somebody writes them down. */
function writtenBy(answers: Readonly<Record<string, string>>): Written {
  // A map, so that a field called "__proto__" is one more unknown field and is refused like any.
  const own = new Map<string, string>();
  const written: { -readonly [K in keyof Written]: Written[K] } = {};
  for (const [field, text] of Object.entries(answers)) {
    switch (field) {
      case "name":
      case "company":
      case "product":
      case "message":
      case "address":
      case "language":
      case "detail":
        written[field] = text;
        break;
      case "postal_code":
      case "postal-code":
      case "territory":
        written.postalCode = text;
        break;
      case "email":
        written.moreEmails = [text];
        break;
      case "phone":
        written.morePhones = [{ number: text }];
        break;
      case "preferred":
        written.preferred = text === "call" || text === "text" || text === "email" ? text : null;
        break;
      default:
        if (field.startsWith("answer."))
          written.answers = { ...written.answers, [field.slice("answer.".length)]: text };
        else own.set(field.startsWith("own.") ? field.slice("own.".length) : field, text);
    }
  }
  return own.size > 0 ? { ...written, own: Object.fromEntries(own) } : written;
}

/** Keep what somebody has found out, by the fields questions ask for. */
export function answerQuestions(
  world: World,
  by: string,
  answers: Readonly<Record<string, string>>,
): Decided {
  if (!world.lead) return noSuchLead();
  if (!personOf(world.setup, by)) return nobodyByThatId();
  const draft = new Draft(world, { kind: "person", id: by });
  return learnInto(draft, writtenBy(answers)) ?? draft.done();
}

/** They have no answer yet: whoever has the lead asks again on the next open day. */
export function askLater(world: World, by: string, question: string): Decided {
  const { lead, setup, now } = world;
  if (!lead) return noSuchLead();
  if (!personOf(setup, by)) return nobodyByThatId();
  if (lead.closed) return leadIsClosed();
  const asked = setup.policies.questionSets.flatMap((s) => s.questions).find((q) => q.key === question);
  const words = asked?.words ?? question.trim();
  if (!words)
    return refuse("no-such-question", 422, "No such question", "Say what is to be asked.", "question");
  const dueAt = inDaysWhenOpen(now, calendarAround(setup.policies.desk, now), { days: 1, at: "09:00" });
  const draft = new Draft(world, { kind: "person", id: by });
  const task = { id: world.id("task"), note: `Ask: ${words}`, dueAt, to: [lead.ownerId ?? by], runId: null };
  return draft.add("task-set", { task }).done();
}

function notFromHere(draft: Draft, stage: Stage, mover: boolean): Refused | null {
  const { policies } = draft.world.setup;
  if (stage.by === "movers" && !mover)
    return refuse(
      "not-yours-to-move",
      409,
      "Not yours to move there",
      `Only coordinators and managers move leads to “${stage.name}”.`,
      "stage",
    );
  if (!stage.from || stage.from.length === 0 || stage.from.includes(draft.lead.stage)) return null;
  const allowed = stage.from.map((key) => `“${stageName(policies, key)}”`).join(" or ");
  return refuse(
    "not-from-here",
    409,
    "Not from here",
    `A lead comes to “${stage.name}” from ${allowed}; this one is in “${stageName(policies, draft.lead.stage)}”.`,
    "stage",
  );
}

/** What must be known before the lead enters a stage, and is not: each by its name; null when nothing is missing. */
export function lacks(draft: Draft, stage: Stage): Refused | null {
  const { setup, now } = draft.world;
  const missing = missingFor(setup, draft.lead, factsOf(draft.lead, setup, now), stage);
  if (missing.length === 0) return null;
  return conflict(
    "facts-are-missing",
    "Something is not known yet",
    `Before “${stage.name}” one must know: ${missing.map((m) => m.name).join(", ")}.`,
    missing.map(({ field, name }) => ({ path: field, message: `${name} is not known yet.` })),
  );
}

/** The reason somebody gave for an end of that kind, or what is there to choose from. */
export function endReason(
  reasons: readonly EndReason[],
  kind: EndKind,
  given: string | undefined,
): EndReason | Refused {
  const fitting = reasons.filter((r) => r.kind === kind);
  const found = given ? named(fitting, given) : undefined;
  if (found) return found;
  const text = given?.trim();
  // Where the company has no reasons for such an end, whatever is said is one.
  if (fitting.length === 0 && text) return { key: text, name: text, kind };
  const choices = fitting.map((r) => r.name).join(", ");
  const said = choices ? `Say why, by one of: ${choices}.` : "Say why.";
  return conflict("a-reason-is-needed", "A reason is needed", said, [{ path: "reason", message: said }]);
}

/** What entering a stage does, beside the cadences that begin with it. */
function enter(draft: Draft, { name, entry }: Stage): void {
  if (!entry) return;
  const { setup, now, id } = draft.world;
  const desk = { actor: { kind: "desk" } } as const;
  const { tag, task, tell: whom = [] } = entry;
  if (tag && !draft.lead.tags.includes(tag))
    draft.add("learned", { facts: { tags: [...draft.lead.tags, tag] } }, desk);
  if (task && draft.lead.ownerId) {
    const dueAt = inDaysWhenOpen(now, calendarAround(setup.policies.desk, now), { days: 1, at: "09:00" });
    draft.add(
      "task-set",
      { task: { id: id("task"), note: task, dueAt, to: [draft.lead.ownerId], runId: null } },
      desk,
    );
  }
  tell(draft, whom, "planned", { heading: `${draft.lead.name ?? "A lead"} is now “${name}”` });
}

/** What follows from the reason a lead ends for: it is closed, or set aside until somebody looks again. */
function endLead(draft: Draft, { name, turnBack, cadenceId, againMonths }: EndReason): void {
  const { setup, now } = draft.world;
  if (cadenceId || againMonths) {
    const lookAt = againMonths ? monthsOn(setup, now, againMonths) : null;
    parkIt(draft, name, cadenceId ?? null, lookAt);
  } else draft.add("closed", { reason: name });
  if (turnBack) creditTurn(draft, name.toLowerCase());
}

/** The desk's first opening at nine or later, so many months on. */
export function monthsOn(setup: Setup, now: number, months: number): number {
  const { zone } = setup.policies.desk;
  const then = Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone).add({ months });
  return inDaysWhenOpen(then.epochMilliseconds, calendarAround(setup.policies.desk, then.epochMilliseconds), {
    days: 0,
    at: "09:00",
  });
}

/** Why a lead can't be set aside instead of closed just now: they would wait for an answer for months. */
function answersFirst({ lead }: Draft, { name, cadenceId, againMonths }: EndReason): Refused | null {
  if ((!cadenceId && !againMonths) || (lead.replyWaiting === null && lead.callBack === null)) return null;
  return refuse(
    "they-wait-for-an-answer",
    409,
    "They wait for an answer",
    `“${name}” sets the lead aside. Answer them first.`,
  );
}

/** Close the lead with one of the company's reasons. */
export function close(world: World, by: string, reason: string): Decided {
  if (!world.lead) return noSuchLead();
  if (!personOf(world.setup, by)) return nobodyByThatId();
  if (world.lead.closed) return leadIsClosed();
  const { policies } = world.setup;
  const found = reasonsOf(policies, "lead").find((r) => r.name === reason || r.key === reason);
  if (!found)
    return refuse(
      "no-such-reason",
      422,
      "No such reason",
      `Give one of: ${closeReasons(policies).join(", ")}.`,
      "reason",
    );
  const draft = new Draft(world, { kind: "person", id: by });
  const waits = answersFirst(draft, found);
  if (waits) return waits;
  endLead(draft, found);
  return draft.done();
}

/** Open a closed lead again, with the reason. One with nobody goes by the rules. */
export function reopen(world: World, by: string, reason: string): Decided {
  const { lead } = world;
  if (!lead) return noSuchLead();
  if (!personOf(world.setup, by)) return nobodyByThatId();
  if (lead.joinedTo)
    return refuse(
      "joined-to-another",
      409,
      "Joined to another lead",
      "It goes on as the lead it was joined to. Take them apart first.",
    );
  if (lead.erased)
    return refuse(
      "erased",
      409,
      "Erased",
      "Everything that named them was erased: there is nobody to talk to.",
    );
  if (!lead.closed) return refuse("open-already", 409, "Open already", "This lead is open.");
  if (!reason.trim())
    return refuse("a-reason-is-needed", 422, "A reason is needed", "Say why it is opened again.", "reason");
  const draft = new Draft(world, { kind: "person", id: by });
  draft.add("reopened", { reason: reason.trim() });
  if (!draft.lead.ownerId && !draft.lead.customer) routeOn(draft);
  return draft.done();
}
