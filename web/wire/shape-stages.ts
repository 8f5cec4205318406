import type { LeadEvent } from "../../core/lead/events.ts";
import { catalogue, factsOf, fieldType } from "../../core/lead/fields.ts";
import { fold } from "../../core/lead/fold.ts";
import type { Lead } from "../../core/lead/lead.ts";
import { answerTo, askedIn, asksFor, missingFor, scoreOf, setsFor } from "../../core/lead/qualify.ts";
import { ASKABLE, type AskKey, askName } from "../../core/policy/asks.ts";
import { forParked, planOf } from "../../core/policy/cadence.ts";
import { sayOwnValue } from "../../core/policy/own-fields.ts";
import { nameOf, type Setup, valueNames } from "../../core/policy/setup.ts";
import {
  DEAL_ASKS,
  OWN_STAGES,
  reasonsOf,
  type Stage,
  stageName,
  stagesOf,
} from "../../core/policy/stages.ts";
import { timeBeside } from "../../core/time/words.ts";
import type { Desk } from "../../server/desk.ts";
import type * as wire from "./customer-schemas.ts";

/** Everything that can be asked for of a lead, with what each is called. */
function askable({ policies }: Setup): { key: AskKey; name: string }[] {
  const keys: AskKey[] = [...ASKABLE, "territory", ...policies.fields.map((f) => `own.${f.key}` as const)];
  return keys.map((key) => ({ key, name: askName(policies, key) }));
}

export function toStages(desk: Desk): wire.StagesSetup {
  const { setup } = desk;
  const { policies, people } = setup;
  const standing = desk.standsIn();
  return {
    stages: policies.stages.map((s) => ({
      ...copyOf(s),
      leads: standing.lead[s.key] ?? 0,
      deals: standing.deal[s.key] ?? 0,
      own: OWN_STAGES.includes(s.key),
      questions: policies.questionSets.flatMap((q) => q.questions).filter((q) => q.requiredFor === s.key)
        .length,
    })),
    reasons: policies.reasons.map((r) => ({ ...r })),
    askable: [
      ...askable(setup).map((a) => ({ ...a, deal: false })),
      ...Object.entries(DEAL_ASKS).map(([key, name]) => ({ key, name, deal: true })),
    ],
    slowPlans: forParked(setup).map((c) => ({ id: c.id, name: planOf(c).name })),
    people: people.filter((p) => !p.left).map(({ id, name }) => ({ id, name })),
    begins: policies.cadences.flatMap((c) =>
      (c.live?.enters ?? []).flatMap((e) =>
        e.on === "stage" && e.value ? [{ stage: e.value, cadence: planOf(c).name }] : [],
      ),
    ),
  };
}

const copyOf = ({ asks, from, entry, ...stage }: Stage) => ({
  ...stage,
  asks: [...asks],
  ...(from && { from: [...from] }),
  ...(entry && { entry: { ...entry, tell: [...(entry.tell ?? [])] } }),
});

/** What kind of answer something that can be asked for has, and what may be chosen. */
function answerKind(
  setup: Setup,
  key: AskKey,
): { type: string; choices: { value: string; label: string }[] } {
  const own = key.startsWith("own.") ? setup.policies.fields.find((f) => `own.${f.key}` === key) : undefined;
  if (own) {
    const choices = own.type === "yes-no" ? ["yes", "no"] : own.choices;
    return { type: own.type, choices: choices.map((value) => ({ value, label: value })) };
  }
  if (key === "product")
    return {
      type: "choice",
      choices: setup.policies.products.map((p) => ({ value: p.key, label: p.name })),
    };
  const field = catalogue(setup).find((f) => f.key === key);
  return {
    type: field ? (fieldType(field.key, setup) ?? "text") : "text",
    choices: (key === "preferred" ? field?.choices : undefined)?.map((c) => ({ ...c })) ?? [],
  };
}

export function toQuestions({ setup }: Desk): wire.QuestionsSetup {
  return {
    questionSets: setup.policies.questionSets.map((set) => ({
      ...set,
      questions: set.questions.map((q) => ({
        ...q,
        points: q.points.map(({ is, ...p }) => ({ ...p, ...(is && { is: [...is] }) })),
      })),
    })),
    askable: askable(setup).map((a) => {
      const { type, choices } = answerKind(setup, a.key);
      return { ...a, type, choices: choices.map((c) => c.value) };
    }),
    stages: stagesOf(setup.policies, "lead").map(({ key, name }) => ({ key, name })),
    catalogue: catalogue(setup).map((f) => ({
      ...f,
      operators: [...f.operators],
      choices: f.choices.map((c) => ({ ...c })),
    })),
  };
}

/** An answer as it is written, and as people read it. */
function saidAnswer(setup: Setup, lead: Lead, key: AskKey): { written: string; said: string } | null {
  const answer = answerTo(lead, key);
  if (answer === null) return null;
  const written = Array.isArray(answer) ? answer.join(", ") : String(answer);
  if (key === "product") return { written, said: valueNames.product(setup, written) };
  const own = key.startsWith("own.") ? setup.policies.fields.find((f) => `own.${f.key}` === key) : undefined;
  const value = own && lead.facts.own[own.key];
  return {
    written,
    said: own && value !== undefined ? sayOwnValue(own, value, setup.policies.company.currency) : written,
  };
}

/** Where each answer comes from: who or what last changed it, in words. */
function provenance(
  setup: Setup,
  events: readonly LeadEvent[],
  keys: readonly AskKey[],
): ReadonlyMap<AskKey, string> {
  const from = new Map<AskKey, string>();
  let lead: Lead | null = null;
  for (const event of events) {
    const after = fold(lead, event);
    if (
      event.kind === "inquiry" ||
      event.kind === "learned" ||
      event.kind === "joined" ||
      event.kind === "parted"
    )
      for (const key of keys) {
        const said = JSON.stringify(answerTo(after, key));
        if (said === JSON.stringify(lead && answerTo(lead, key))) continue;
        const who =
          event.kind === "inquiry"
            ? (setup.sources.find((s) => s.id === event.data.sourceId)?.name ?? "an inquiry")
            : event.actor.kind === "person"
              ? nameOf(setup, event.actor.id)
              : "the desk";
        from.set(key, `${who}, ${timeBeside(event.at, setup.policies.desk.zone, events.at(-1)!.at)}`);
      }
    lead = after;
  }
  return from;
}

/** What is asked of a lead, what is known already and where from, and how far it is from each stage. */
export function toAsking(desk: Desk, lead: Lead, mover: boolean): wire.Asking {
  const { setup, clock, reader } = desk;
  const facts = factsOf(lead, setup, clock.now());
  const sets = setsFor(setup, facts);
  const stages = stagesOf(setup.policies, "lead");
  const asked = [...new Set(sets.flatMap((set) => askedIn(set, facts).map((q) => q.field)))];
  const from = provenance(setup, reader.events(lead.id), asked);
  return {
    sets: sets.map((set) => ({
      id: set.id,
      name: set.name,
      questions: askedIn(set, facts).map(({ key, words, help, field, requiredFor }) => {
        const answer = saidAnswer(setup, lead, field);
        return {
          key,
          words,
          help,
          field,
          name: askName(setup.policies, field),
          ...answerKind(setup, field),
          answer: answer?.written ?? null,
          said: answer?.said ?? null,
          from: answer ? (from.get(field) ?? null) : null,
          requiredFor: requiredFor ?? null,
        };
      }),
    })),
    stages: stages.map((stage) => stageOf(setup, lead, facts, stage, mover)),
    score: scoreOf(setup, lead, facts) && {
      points: scoreOf(setup, lead, facts)!.points,
      made: scoreOf(setup, lead, facts)!.made.map((m) => ({ ...m })),
    },
  };
}

function stageOf(
  setup: Setup,
  lead: Lead,
  facts: ReturnType<typeof factsOf>,
  stage: Stage,
  mover: boolean,
): wire.Asking["stages"][number] {
  const missing = missingFor(setup, lead, facts, stage);
  const all = asksFor(setup, facts, stage).length;
  const from = stage.from ?? [];
  const whyNot =
    stage.by === "movers" && !mover
      ? "coordinators and managers move leads there"
      : from.length > 0 && !from.includes(lead.stage) && lead.stage !== stage.key
        ? `from ${from.map((key) => stageName(setup.policies, key)).join(" or ")}`
        : null;
  return {
    key: stage.key,
    name: stage.name,
    kind: stage.kind,
    here: lead.stage === stage.key,
    known: all - missing.length,
    asked: all,
    missing: missing.map((m) => ({ ...m })),
    whyNot,
    reasons:
      stage.kind === "open"
        ? []
        : reasonsOf(setup.policies, "lead")
            .filter((r) => r.kind === stage.kind)
            .map((r) => r.name),
  };
}
