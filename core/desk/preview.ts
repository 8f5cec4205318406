import type { LeadEvent } from "../lead/events.ts";
import type { Lead } from "../lead/lead.ts";
import type { Cadence, CadencePlan, Touch, TouchKind } from "../policy/cadence.ts";
import { languagesOf, type Setup, valueNames } from "../policy/setup.ts";
import { localDate } from "../time/words.ts";
import { startCadence } from "./cadence.ts";
import { MemoryDesk } from "./memory.ts";
import { Draft } from "./plan.ts";
import { sampleLead } from "./sample-lead.ts";

const DAY = 86_400_000;
/** So far ahead it is looked (ms), and so many touches are shown. */
const FAR = 800 * DAY;
const MOST = 60;

/** One touch as it would come. */
export interface PreviewTouch {
  /** Counting from 1. */
  readonly n: number;
  readonly round: number;
  readonly kind: TouchKind;
  readonly at: number;
  /** Of a message its words; of another what is done. */
  readonly said: string;
  readonly subject: string | null;
  /** Why it would be left out; null when it would not. */
  readonly skipped: string | null;
  /** Why it comes later than planned, where restraint holds it. */
  readonly held: string | null;
}

export interface Preview {
  readonly touches: readonly PreviewTouch[];
  readonly warnings: readonly string[];
}

/**
 * What a cadence would do with a lead that begins it at `startAt` (epoch ms): run by the same decisions as a live one, with
 * each call and task done at its time and nobody answering. Never throws for a plan that can be published.
 */
export function previewCadence(
  setup: Setup,
  id: string,
  plan: CadencePlan,
  startAt: number,
  someone: Lead | null = null,
): Preview {
  const alone = onlyCadences(setup, id, plan);
  const lead = { ...blankFor(alone, someone, startAt, plan), cadences: [] };
  const desk = new MemoryDesk(alone, startAt);
  desk.leads.set(lead.id, lead);
  const by = alone.people.find((p) => !p.left)?.id ?? "";
  desk.commit(startCadence(desk.look(lead.id), by, { cadenceId: id }));
  const until = startAt + FAR;
  const touches = () => (desk.events.get(lead.id) ?? []).filter((e) => e.kind === "cadence-touched").length;
  while (desk.now < until && touches() < MOST * 2) {
    const next = nextMoment(desk, lead.id);
    if (next === null || next > until) break;
    desk.advance(Math.max(0, next - desk.now));
    doWork(desk, lead.id);
  }
  const events = desk.events.get(lead.id) ?? [];
  return { touches: told(events, plan).slice(0, MOST), warnings: warningsFor(setup, plan, events) };
}

/** The set-up with this draft in force, and nothing that begins or rings by itself. */
function onlyCadences(setup: Setup, id: string, plan: CadencePlan): Setup {
  const drafted: Cadence = { id, version: 1, live: plan, draft: null, publishedAt: null, kept: [] };
  const others = setup.policies.cadences.filter((c) => c.id !== id);
  const cadences = [drafted, ...others].map((c) => (c.live ? { ...c, live: { ...c.live, enters: [] } } : c));
  return { ...setup, policies: { ...setup.policies, cadences, targets: [] } };
}

function blankFor(setup: Setup, someone: Lead | null, startAt: number, plan: CadencePlan): Lead {
  const [source] = setup.sources;
  const lead = someone ?? sampleLead(setup, source!, startAt);
  const owner = lead.ownerId ?? setup.people.find((p) => p.role === "salesperson" && !p.left)?.id ?? null;
  return {
    ...lead,
    closed: null,
    joinedTo: null,
    replyWaiting: null,
    callBack: null,
    nextStep: null,
    scheduled: [],
    bell: null,
    others: [],
    handOff: null,
    ownerId: plan.reason === "parked" ? null : owner,
    parked: plan.reason === "parked" ? { reason: "a sample", at: startAt, lookAt: null } : null,
  };
}

const nextMoment = (desk: MemoryDesk, leadId: string): number | null => {
  const due = [...desk.timers.values()]
    .filter((t) => t.leadId === leadId && t.kind === "touch")
    .map((t) => t.dueAt);
  return due.length > 0 ? Math.min(...due) : null;
};

/** Whatever is waited for is done at once, so that what follows shows at its earliest. */
function doWork(desk: MemoryDesk, leadId: string): void {
  const lead = desk.leads.get(leadId)!;
  if (!lead.cadences.some((r) => r.waits)) return;
  const draft = new Draft(desk.look(leadId), { kind: "desk" });
  if (lead.nextStep?.touch) draft.add("next-step", { step: null });
  for (const task of lead.tasks)
    draft.add("task-done", { taskId: task.id, note: task.note, personId: task.to[0] ?? "" });
  desk.commit(draft.done());
}

function told(events: readonly LeadEvent[], plan: CadencePlan): PreviewTouch[] {
  let held: string | null = null;
  let message: { subject: string | null; body: string } | null = null;
  const touches: PreviewTouch[] = [];
  for (const event of events) {
    if (event.kind === "cadence-moved") held = event.data.reason;
    if (event.kind === "message-out") message = event.data;
    if (event.kind !== "cadence-touched") continue;
    const { n, kind, did, reason, next } = event.data;
    // That a call was made after it was set says nothing new.
    if (did === "done" && (kind === "call" || kind === "task")) continue;
    touches.push({
      n: n + 1,
      round: next.n > n ? next.round : Math.max(0, next.round - 1),
      kind,
      at: event.at,
      said: message?.body ?? (did === "skipped" ? plan.touches[n]?.note || kind : reason),
      subject: message?.subject ?? null,
      skipped: did === "skipped" ? reason : null,
      held,
    });
    held = null;
    message = null;
  }
  return touches;
}

/** What somebody should look at before it is published. */
function warningsFor(setup: Setup, plan: CadencePlan, events: readonly LeadEvent[]): string[] {
  const { zone } = setup.policies.desk;
  const warnings: string[] = [];
  const sent = events.filter((e) => e.kind === "message-out").map((e) => e.at);
  const days = sent.map((at) => localDate(at, zone));
  const twice = days.find((day, i) => days.indexOf(day) !== i);
  if (twice) warnings.push(`Two messages go on one day, ${twice}.`);
  const over = events.find(
    (e) => e.kind === "cadence-touched" && /automatic messages within a day/.test(e.data.reason),
  );
  if (over) warnings.push("More messages are planned for a day than one lead may get: some are left out.");
  plan.touches.forEach((touch, i) => {
    if (nobodyFor(setup, touch)) warnings.push(`Touch ${i + 1} has nobody who could do it.`);
    warnings.push(...languageWarnings(setup, touch, i + 1));
  });
  if (plan.stops.length === 0) warnings.push("Nothing they do stops it.");
  const again = plan.then?.again;
  const round = again ? plan.touches.slice(again.from - 1) : [];
  if (
    again?.times === null &&
    !round.some((t) => t.kind === "call" || t.kind === "task" || t.kind === "list")
  )
    warnings.push("It repeats for ever, and no person ever looks.");
  return warnings;
}

function nobodyFor(setup: Setup, { who }: Touch): boolean {
  if (!who || "owner" in who) return false;
  const here = setup.people.filter((p) => !p.left);
  if ("person" in who) return !here.some((p) => p.id === who.person);
  if ("role" in who) return !here.some((p) => p.role === who.role);
  return !setup.groups
    .find((g) => g.id === who.group)
    ?.members.some((m) => here.some((p) => p.id === m.personId));
}

function languageWarnings(setup: Setup, { templateId, kind, body }: Touch, n: number): string[] {
  if (kind !== "email" && kind !== "text") return [];
  const template = setup.policies.templates.find((t) => t.id === templateId);
  const written = template
    ? Object.keys(template.texts)
    : body
      ? [setup.policies.company.languages[0] ?? "en"]
      : [];
  const missing = setup.policies.company.languages.filter(
    (l) => languagesOf(setup).includes(l) && !written.includes(l),
  );
  if (missing.length === 0) return [];
  return [
    `Touch ${n} has no words in ${missing.map(valueNames.language).join(" or ")}: they get the usual language.`,
  ];
}
