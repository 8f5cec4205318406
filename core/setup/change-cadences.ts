import { about, isDuration } from "../cadence/when.ts";
import { conditionProblem } from "../condition/condition.ts";
import { fieldFinder } from "../lead/fields.ts";
import { checkTemplate } from "../message/template.ts";
import {
  type Cadence,
  type CadencePlan,
  type Entry,
  forParked,
  isForParked,
  STOPS,
  type Touch,
} from "../policy/cadence.ts";
import type { Setup } from "../policy/setup.ts";
import { closeReasons } from "../policy/stages.ts";
import { type Refused, refuse } from "../refusal.ts";
import type { Changed } from "./change.ts";

/** So many touches a cadence has at most. */
const MOST_TOUCHES = 60;
const DAY = 86_400_000;
const MESSAGES: ReadonlySet<string> = new Set(["email", "text"]);

const put = (setup: Setup, cadences: readonly Cadence[]): Changed => ({
  ok: true,
  setup: { ...setup, policies: { ...setup.policies, cadences } },
});

const replaced = (setup: Setup, cadence: Cadence) =>
  put(
    setup,
    setup.policies.cadences.map((c) => (c.id === cadence.id ? cadence : c)),
  );

const found = (setup: Setup, id: string): Cadence | Refused =>
  setup.policies.cadences.find((c) => c.id === id) ??
  refuse("no-such-cadence", 404, "No such cadence", "There is no cadence with that id.");

/** Something wrong in a cadence, with its path. */
export interface PlanFault {
  readonly path: string;
  readonly message: string;
}

/** What keeps a cadence from being published, with its path; null when it can be. */
export function planProblem(setup: Setup, id: string, plan: CadencePlan): PlanFault | null {
  const { cadences } = setup.policies;
  if (!plan.name.trim()) return { path: "name", message: "Give the cadence a name to find it by." };
  const name = plan.name.trim().toLowerCase();
  if (cadences.some((c) => c.id !== id && c.live?.name.trim().toLowerCase() === name))
    return { path: "name", message: `There is a cadence “${plan.name}” already.` };
  if (plan.touches.length === 0) return { path: "touches", message: "It has no touch yet. Add one." };
  if (plan.touches.length > MOST_TOUCHES)
    return {
      path: "touches",
      message: `A cadence has ${MOST_TOUCHES} touches at most. Hand on into another.`,
    };
  for (const [i, touch] of plan.touches.entries()) {
    const wrong = touchProblem(setup, plan, touch, i);
    if (wrong) return { path: `touches.${i}.${wrong.path}`, message: `Touch ${i + 1}: ${wrong.message}` };
  }
  for (const [i, entry] of plan.enters.entries()) {
    const wrong = entryProblem(setup, entry);
    if (wrong) return { path: `enters.${i}.${wrong.path}`, message: wrong.message };
  }
  const stop = plan.stops.find((s) => !Object.hasOwn(STOPS, s) && !s.startsWith("stage:"));
  if (stop) return { path: "stops", message: `“${stop}” is nothing that stops a cadence.` };
  return endProblem(setup, id, plan);
}

function endProblem(setup: Setup, id: string, { then, touches }: CadencePlan): PlanFault | null {
  if (!then) return null;
  const { again, cadenceId } = then;
  if (again && (again.from < 1 || again.from > touches.length))
    return { path: "then.again.from", message: `It begins again from touch 1 to ${touches.length}.` };
  if (again && again.times !== null && (again.times < 1 || again.times > 500))
    return { path: "then.again.times", message: "It begins again once to 500 times, or for ever." };
  // A round of less than a day would send without an end in no time.
  if (again && lasts(touches.slice(again.from - 1)) < DAY)
    return { path: "then.again", message: "What is repeated takes a day at least. Put more time between." };
  if (cadenceId === undefined) return null;
  const next = setup.policies.cadences.find((c) => c.id === cadenceId);
  if (!next) return { path: "then.cadenceId", message: "Choose a cadence it goes on into." };
  if ((next.live ?? next.draft)?.then?.cadenceId && lasts(touches) < DAY)
    return { path: "then.cadenceId", message: "A cadence that goes on into another takes a day at least." };
  if (cadenceId === id)
    return { path: "then.cadenceId", message: "Begin it again instead of handing on into itself." };
  return null;
}

/** About how long touches take, one after the other (ms). */
const lasts = (touches: readonly Touch[]): number =>
  touches.reduce(
    (sum, t) =>
      t.from === "field"
        ? sum + DAY
        : t.from === "start"
          ? Math.max(sum, about(t.after))
          : sum + about(t.after),
    0,
  );

function touchProblem(setup: Setup, plan: CadencePlan, touch: Touch, i: number): PlanFault | null {
  const time = timeProblem(setup, touch);
  if (time) return time;
  const find = fieldFinder(setup);
  const condition = conditionProblem(touch.when ?? null, find, "when");
  if (condition) return condition;
  if (touch.kind === "if" && !touch.when) return { path: "when", message: "say what it asks." };
  if (touch.otherwise !== undefined && (touch.otherwise <= i + 1 || touch.otherwise > plan.touches.length))
    return { path: "otherwise", message: "it goes on at a later touch." };
  if (MESSAGES.has(touch.kind)) return messageProblem(setup, touch);
  if (touch.kind === "tag" && !touch.note?.trim()) return { path: "note", message: "say which tag." };
  if (touch.kind === "task" && !touch.note?.trim())
    return { path: "note", message: "say what is to be done." };
  const closing = closeReasons(setup.policies);
  if (touch.kind === "close" && !closing.includes(touch.note?.trim() ?? ""))
    return { path: "note", message: `close with one of: ${closing.join(", ")}.` };
  if (touch.planId && !forParked(setup).some((c) => c.id === touch.planId))
    return { path: "planId", message: "choose one of the cadences for parked leads, or none." };
  if (touch.outcome && !setup.policies.outcomes.some((o) => o.key === touch.outcome))
    return { path: "outcome", message: "choose one of the outcomes, or none." };
  const { who } = touch;
  if (who && "person" in who && !setup.people.some((p) => p.id === who.person && !p.left))
    return { path: "who", message: "choose somebody who works here." };
  if (who && "group" in who && !setup.groups.some((g) => g.id === who.group))
    return { path: "who", message: "choose a group." };
  if (touch.waitHours !== undefined && !(touch.waitHours > 0 && touch.waitHours <= 2400))
    return { path: "waitHours", message: "wait an hour to a hundred days." };
  return null;
}

function messageProblem(setup: Setup, touch: Touch): PlanFault | null {
  if (touch.templateId) {
    const template = setup.policies.templates.find((t) => t.id === touch.templateId);
    if (template?.channel !== touch.kind)
      return { path: "templateId", message: `choose a template for ${touch.kind}.` };
    return null;
  }
  if (!touch.body?.trim()) return { path: "body", message: "choose a template, or write what it says." };
  for (const part of ["subject", "body"] as const) {
    const [fault] = checkTemplate(touch[part] ?? "", setup);
    if (fault) return { path: part, message: fault.message };
  }
  return null;
}

function timeProblem(setup: Setup, touch: Touch): PlanFault | null {
  if (!isDuration(touch.after))
    return { path: "after", message: "say after how long, as PT5M, P4D or P1M, ten years at most." };
  if (touch.from !== "field" && touch.after.startsWith("-"))
    return { path: "after", message: "only around a date can something come before it." };
  const known = setup.policies.fields.some(
    (f) => `own.${f.key}` === touch.field && (f.type === "date" || f.type === "birthday"),
  );
  if (touch.from === "field" && touch.field !== "customer-since" && !known)
    return { path: "field", message: "choose a field that holds a date." };
  const wall = /^([01]\d|2[0-3]):[0-5]\d$/;
  for (const part of ["at", "until"] as const)
    if (touch[part] !== undefined && !wall.test(touch[part]))
      return { path: part, message: "give a time such as 09:00." };
  if (touch.until && !(touch.at && touch.at < touch.until))
    return { path: "until", message: "a window begins before it ends." };
  return null;
}

function entryProblem(setup: Setup, { on, value, nth, when }: Entry): PlanFault | null {
  const { outcomes, stages } = setup.policies;
  if (on === "outcome" && !outcomes.some((o) => o.key === value))
    return { path: "value", message: "Choose the outcome leads get in by." };
  if (on === "stage" && !stages.some((s) => s.key === value))
    return { path: "value", message: "Choose the stage leads get in by." };
  if (on === "tag" && !value?.trim()) return { path: "value", message: "Say by which tag leads get in." };
  if (nth !== undefined && !(nth >= 1 && nth <= 50))
    return { path: "nth", message: "From the first try to the fiftieth." };
  return conditionProblem(when ?? null, fieldFinder(setup), "when");
}

/** Keep a draft of a cadence, a new one or the next version of one. It may be unfinished: only publishing asks that it is sound. */
export function draftCadence(setup: Setup, id: string, plan: CadencePlan): Changed {
  const known = setup.policies.cadences.find((c) => c.id === id);
  if (known) return replaced(setup, { ...known, draft: plan });
  if (setup.policies.cadences.length >= 200)
    return refuse(
      "too-many",
      422,
      "Too many",
      "Two hundred cadences are the most. Remove one first.",
      "cadences",
    );
  const fresh: Cadence = { id, version: 0, live: null, draft: plan, publishedAt: null, kept: [] };
  return put(setup, [...setup.policies.cadences, fresh]);
}

/** Throw the draft away; a cadence that was never published goes with it. */
export function dropCadenceDraft(setup: Setup, id: string): Changed {
  const cadence = found(setup, id);
  if ("problem" in cadence) return cadence;
  if (!cadence.live) return removeCadence(setup, id, new Set());
  return replaced(setup, { ...cadence, draft: null });
}

/** Put the draft in force as the next version. Versions somebody is still in are kept; `inUse` names them. */
export function publishCadence(setup: Setup, id: string, at: number, inUse: ReadonlySet<number>): Changed {
  const cadence = found(setup, id);
  if ("problem" in cadence) return cadence;
  const { draft, live, version } = cadence;
  if (!draft)
    return refuse(
      "nothing-to-publish",
      409,
      "Nothing to publish",
      "There is no draft. Change a touch first.",
    );
  const wrong = planProblem(setup, id, draft);
  if (wrong)
    return refuse("it-cant-be-published-yet", 422, "It can’t be published yet", wrong.message, wrong.path);
  if (live && isForParked(live) && !isForParked(draft)) {
    const used = usesOfCadence(setup, id);
    if (used.length > 0)
      return refuse(
        "it-is-in-use",
        409,
        "It is in use",
        `Leads are parked into it by ${used.join("; ")}.`,
        "reason",
      );
  }
  const kept = [...cadence.kept, ...(live ? [{ version, plan: live }] : [])].filter((k) =>
    inUse.has(k.version),
  );
  const plan = { ...draft, name: draft.name.trim() };
  return replaced(setup, {
    ...cadence,
    version: version + 1,
    live: plan,
    draft: null,
    publishedAt: at,
    kept,
  });
}

/** Switch a cadence off, so that nobody gets in any more, or on again. */
export function switchCadence(setup: Setup, id: string, off: boolean): Changed {
  const cadence = found(setup, id);
  if ("problem" in cadence) return cadence;
  const { off: _, ...on } = cadence;
  return replaced(setup, off ? { ...on, off: true } : on);
}

/** Where a cadence is named, in words. */
export function usesOfCadence({ policies }: Setup, id: string): readonly string[] {
  return [
    ...policies.ladders
      .filter((l) => l.rungs.some((r) => r.planId === id))
      .map((l) => `the ladder “${l.name}”`),
    ...policies.cadences
      .filter((c) => c.id !== id)
      .filter((c) =>
        [c.live, c.draft].some((p) => p?.then?.cadenceId === id || p?.touches.some((t) => t.planId === id)),
      )
      .map((c) => `the cadence “${(c.live ?? c.draft)!.name}”`),
  ];
}

/** Remove a cadence nothing names and nobody is in. */
export function removeCadence(setup: Setup, id: string, inUse: ReadonlySet<number>): Changed {
  const cadence = found(setup, id);
  if ("problem" in cadence) return cadence;
  const uses = usesOfCadence(setup, id);
  if (uses.length > 0)
    return refuse("it-is-in-use", 409, "It is in use", `Take it out of these first: ${uses.join("; ")}.`);
  if (inUse.size > 0)
    return refuse(
      "it-is-in-use",
      409,
      "It is in use",
      "Leads are in it. Switch it off: nobody gets in, and it ends with them.",
    );
  return put(
    setup,
    setup.policies.cadences.filter((c) => c.id !== id),
  );
}
