import { conditionProblem } from "../condition/condition.ts";
import { fieldFinder } from "../lead/fields.ts";
import { askOf } from "../policy/asks.ts";
import { planOf } from "../policy/cadence.ts";
import { keyOf } from "../policy/own-fields.ts";
import type { Question, QuestionSet } from "../policy/questions.ts";
import type { Policies, Setup } from "../policy/setup.ts";
import {
  DEAL_ASKS,
  type EndReason,
  named,
  OWN_STAGES,
  reasonsOf,
  type Stage,
  type Staged,
  stagesOf,
} from "../policy/stages.ts";
import { type Refused, refuse } from "../refusal.ts";
import type { Changed } from "./change.ts";
import { put, twice, wrong } from "./change-company.ts";

/** How many leads and deals stand in each stage. */
export interface StandsIn {
  readonly lead: Readonly<Record<string, number>>;
  readonly deal: Readonly<Record<string, number>>;
}

export interface StagesChange {
  readonly stages: readonly Stage[];
  readonly reasons: readonly EndReason[];
  /** Where what stands in a stage that is gone goes: the key of that one to the key of one that stays. */
  readonly moves?: Readonly<Record<string, string>> | undefined;
}

const inUse = (detail: string, path: string) => refuse("it-is-in-use", 409, "It is in use", detail, path);

/** A new key from a name, none of which is taken. */
function freshKey(name: string, taken: Set<string>): string {
  let key = name.slice(0, 40);
  for (let n = 2; taken.has(key); n++) key = `${name.slice(0, 36)} ${n}`;
  taken.add(key);
  return key;
}

/** With the keys they have already, by key or by name; a new one is called by its name. What is not said of one known stays. */
function keyed<T extends { readonly key: string; readonly name: string; readonly of?: Staged | undefined }>(
  list: readonly T[],
  before: readonly T[],
): T[] {
  const taken = new Set<string>();
  return list.map((one) => {
    const known = named(before, one.key) ?? (one.key ? undefined : named(before, one.name));
    const of = one.of ?? known?.of;
    const name = one.name.trim();
    const key = known && !taken.has(known.key) ? known.key : freshKey(one.key || name, taken);
    taken.add(key);
    return { ...known, ...one, key, name, ...(of && { of }) };
  });
}

/** Change what leads and deals go through, and why they end. What something stands in goes only with where that goes. */
export function changeStages(setup: Setup, change: StagesChange, standing: StandsIn): Changed {
  const { policies } = setup;
  const stages = keyed(change.stages, policies.stages);
  const reasons = keyed(change.reasons, policies.reasons);
  return (
    namesProblem(stages, reasons) ??
    stagesProblem(setup, stages) ??
    goneProblem(setup, stages, change.moves ?? {}, standing) ??
    reasonsProblem(setup, reasons) ??
    put(setup, { stages: stages.map((s) => tidied(s, policies, stages)), reasons })
  );
}

function namesProblem(stages: readonly Stage[], reasons: readonly EndReason[]): Refused | null {
  for (const [which, list] of [
    ["stages", stages],
    ["reasons", reasons],
  ] as const) {
    const bare = list.findIndex((one) => !one.name);
    if (bare >= 0)
      return wrong("it-needs-a-name", "It needs a name", "Give it a name.", `${which}.${bare}.name`);
    for (const of of ["lead", "deal"] as const) {
      const shared = twice(
        list.flatMap((one, i) =>
          (one.of ?? of) === of ? [{ names: [one.name], path: `${which}.${i}.name` }] : [],
        ),
      );
      if (shared)
        return wrong(
          "the-name-is-taken",
          "The name is taken",
          `“${shared.name}” stands there twice.`,
          shared.path,
        );
    }
  }
  return null;
}

function stagesProblem(setup: Setup, stages: readonly Stage[]): Refused | null {
  const gone = OWN_STAGES.find((key) => !stages.some((s) => s.key === key));
  if (gone)
    return inUse(
      `The desk puts leads into “${named(setup.policies.stages, gone)?.name ?? gone}” itself. Leave it among the stages; its name is free.`,
      "stages",
    );
  for (const [i, stage] of stages.entries()) {
    const path = `stages.${i}`;
    if (OWN_STAGES.includes(stage.key) && stage.kind !== "open")
      return wrong(
        "stays-open",
        "It stays open",
        `“${stage.name}” is where leads are worked: it can’t be an end.`,
        `${path}.kind`,
      );
    const strange = stage.asks.findIndex((field) => askOf(setup.policies, field) === null);
    if (strange >= 0)
      return wrong(
        "no-such-field",
        "No such field",
        `“${stage.asks[strange]}” is no fact that can be asked for. Make it a field of your own first.`,
        `${path}.asks.${strange}`,
      );
    const lost = (stage.from ?? []).findIndex((key) => !named(stages, key));
    if (lost >= 0)
      return wrong(
        "no-such-stage",
        "No such stage",
        `“${stage.name}” is entered from “${stage.from?.[lost]}”, and there is no such stage.`,
        `${path}.from.${lost}`,
      );
    const nobody = (stage.entry?.tell ?? []).find((id) => !setup.people.some((p) => p.id === id && !p.left));
    if (nobody)
      return wrong(
        "nobody-by-that-id",
        "Nobody by that id",
        "Choose people who work here.",
        `${path}.entry.tell`,
      );
  }
  if (!stages.some((s) => s.of !== "lead" && s.kind === "open"))
    return wrong("none-left", "None left", "Keep one stage at least in which a deal can stand.", "stages");
  return null;
}

/** A stage that is gone: its leads and deals have somewhere to go, and no plan waits for it. */
function goneProblem(
  { policies }: Setup,
  stages: readonly Stage[],
  moves: Readonly<Record<string, string>>,
  standing: StandsIn,
): Refused | null {
  for (const old of policies.stages) {
    if (stages.some((s) => s.key === old.key)) continue;
    for (const of of ["lead", "deal"] as const) {
      const n = standing[of][old.key] ?? 0;
      const to = moves[old.key];
      if (n > 0 && !(to && stagesOf({ stages }, of).some((s) => s.key === to && s.kind === old.kind)))
        return inUse(
          `${n} ${of}${n === 1 ? " stands" : "s stand"} in “${old.name}”. Say in \`moves\` which stage of the same kind they go to.`,
          `moves.${old.key}`,
        );
    }
    const waits = policies.cadences.find((c) => {
      const plan = planOf(c);
      return (
        plan.stops.includes(`stage:${old.key}`) ||
        plan.enters.some((e) => e.on === "stage" && e.value === old.key)
      );
    });
    if (waits)
      return inUse(
        `The cadence “${planOf(waits).name}” goes by “${old.name}”. Change it there first.`,
        "stages",
      );
    const asked = policies.questionSets.find((set) => set.questions.some((q) => q.requiredFor === old.key));
    if (asked)
      return inUse(
        `Questions of “${asked.name}” are required for “${old.name}”. Change them first.`,
        "stages",
      );
  }
  return null;
}

function reasonsProblem({ policies }: Setup, reasons: readonly EndReason[]): Refused | null {
  if (reasonsOf({ reasons }, "lead").length === 0)
    return wrong("none-left", "None left", "Keep one at least: people must choose something.", "reasons");
  const names = new Set(reasonsOf({ reasons }, "lead").map((r) => r.name));
  const closes = policies.cadences.find((c) =>
    [c.live, ...c.kept.map((k) => k.plan)].some((plan) =>
      plan?.touches.some((t) => t.kind === "close" && !names.has(t.note ?? "")),
    ),
  );
  if (closes)
    return inUse(
      `The cadence “${planOf(closes).name}” closes leads with a reason that would be gone. Change it there first.`,
      "reasons",
    );
  for (const [i, { cadenceId, againMonths, name }] of reasons.entries()) {
    const cadence = policies.cadences.find((c) => c.id === cadenceId);
    if (cadenceId && cadence?.live?.reason !== "parked")
      return wrong(
        "no-such-cadence",
        "No such cadence",
        `“${name}” sets leads aside in a cadence for parked leads. Choose one that is live.`,
        `reasons.${i}.cadenceId`,
      );
    if (
      againMonths !== undefined &&
      !(Number.isInteger(againMonths) && againMonths >= 1 && againMonths <= 60)
    )
      return wrong("not-months", "Not months", "Ask again after 1 to 60 months.", `reasons.${i}.againMonths`);
  }
  return null;
}

const tidied = (stage: Stage, policies: Policies, stages: readonly Stage[]): Stage => ({
  ...stage,
  asks: [...new Set(stage.asks.map((field) => askOf(policies, field) ?? field))],
  ...(stage.from && { from: stage.from.flatMap((key) => named(stages, key)?.key ?? []) }),
});

/** Change what is asked to qualify leads. */
export function changeQuestions(setup: Setup, sets: readonly QuestionSet[]): Changed {
  const taken = new Set<string>();
  const tidy: QuestionSet[] = [];
  for (const [i, set] of sets.entries()) {
    const path = `questionSets.${i}`;
    const name = set.name.trim();
    if (!name)
      return wrong("it-needs-a-name", "It needs a name", "Give the questions a name.", `${path}.name`);
    const odd = conditionProblem(set.when, fieldFinder(setup), "when");
    if (odd) return wrong("cant-be-asked", "It can’t be asked", odd.message, `${path}.${odd.path}`);
    const questions: Question[] = [];
    const keys = new Set<string>();
    for (const [n, question] of set.questions.entries()) {
      const at = `${path}.questions.${n}`;
      const read = questionOf(setup, question, at, keys);
      if ("ok" in read) return read;
      questions.push(read);
    }
    tidy.push({ ...set, name, id: set.id || freshKey(`qs_${keyOf(name) || i}`, taken), questions });
  }
  return put(setup, { questionSets: tidy });
}

function questionOf(setup: Setup, question: Question, at: string, keys: Set<string>): Question | Refused {
  const { policies } = setup;
  const field = askOf(policies, question.field);
  if (!field || Object.hasOwn(DEAL_ASKS, field))
    return wrong(
      "no-such-field",
      "No such field",
      `“${question.field}” is no fact of a lead. Make it a field of your own first.`,
      `${at}.field`,
    );
  const words = question.words.trim();
  if (!words)
    return wrong("no-words", "No words", "Write what is said aloud, as one would say it.", `${at}.words`);
  const odd = conditionProblem(question.when ?? null, fieldFinder(setup), "when");
  if (odd) return wrong("cant-be-asked", "It can’t be asked", odd.message, `${at}.${odd.path}`);
  const stage = question.requiredFor ? named(stagesOf(policies, "lead"), question.requiredFor) : null;
  if (question.requiredFor && !stage)
    return wrong(
      "no-such-stage",
      "No such stage",
      `There is no stage “${question.requiredFor}”.`,
      `${at}.requiredFor`,
    );
  const bad = question.points.findIndex((p) => !(Number.isInteger(p.points) && Math.abs(p.points) <= 1000));
  if (bad >= 0)
    return wrong(
      "not-points",
      "Not points",
      "Points are whole numbers from −1000 to 1000.",
      `${at}.points.${bad}.points`,
    );
  const key = freshKey(question.key || keyOf(words) || "question", keys);
  return { ...question, key, words, field: field as Question["field"], requiredFor: stage?.key ?? null };
}
