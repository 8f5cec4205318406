import { Temporal } from "temporal-polyfill";
import { type BookChange, BookDraft, type BookWorld } from "../book/draft.ts";
import { foldRecords, isPassedOver, restorableRecord } from "../book/events.ts";
import { type Deal, isCompany, isContact, isDeal } from "../book/records.ts";
import type { Actor } from "../lead/event.ts";
import { answerTo } from "../lead/qualify.ts";
import { sayMoney, toMinor } from "../money/money.ts";
import { type AskKey, askName, askOf } from "../policy/asks.ts";
import { personOf, type Setup } from "../policy/setup.ts";
import {
  DEAL_ASKS,
  type EndReason,
  named,
  reasonsOf,
  type Stage,
  stageName,
  stagesOf,
} from "../policy/stages.ts";
import { type Refused, refuse } from "../refusal.ts";
import { Draft, type Plan, type Told, type World } from "./plan.ts";
import { nobodyByThatId } from "./refusals.ts";
import { endReason, monthsOn } from "./stage.ts";

/** What changes in the book, and the plan of the lead where it changes one too. The changes of the book are the plan's then. */
export interface BookPlan {
  readonly actId: string;
  readonly book: readonly BookChange[];
  readonly told: readonly Told[];
  readonly lead: Plan | null;
}

export type BookDecided = { readonly ok: true; readonly plan: BookPlan } | Refused;

/** An act on the book: with the draft of the lead it is about, where there is one that may change. */
export class BookAct {
  readonly #draft: Draft | null;
  readonly #told: Told[] = [];
  readonly book: BookDraft;
  readonly world: World;

  /** With a draft of the lead in the making, what changes in the book becomes part of that. */
  constructor(world: World, actor: Actor, draft: Draft | null = null) {
    this.world = world;
    this.#draft = draft ?? (world.lead && !world.lead.joinedTo ? new Draft(world, actor) : null);
    this.book = this.#draft?.book ?? new BookDraft(world, actor, world.id("act"));
  }

  /** The draft of the lead; null when it is about none. */
  get draft(): Draft | null {
    return this.#draft;
  }

  tellHooks(event: Told["event"], dealId: string): void {
    if (this.#draft) this.#draft.tellHooks(event, dealId);
    else this.#told.push({ event, leadId: null, dealId });
  }

  done(): BookDecided {
    const decided = this.#draft?.done();
    if (decided && !decided.ok) return decided;
    const lead = decided && decided.plan.events.length > 0 ? decided.plan : null;
    return {
      ok: true,
      plan: {
        actId: this.book.actId,
        book: this.book.changes,
        told: decided?.plan.told ?? this.#told,
        lead,
      },
    };
  }
}

export const noSuchDeal = (): Refused =>
  refuse("no-such-deal", 404, "No such deal", "There is no deal with that id.");

/** A day such as `2026-03-04`; null for none, undefined for what is no day. */
export function readDay(text: string | null): string | null | undefined {
  if (!text?.trim()) return null;
  if (!/^\d{4}-\d{2}-\d{2}$/.test(text.trim())) return undefined;
  try {
    return Temporal.PlainDate.from(text.trim(), { overflow: "reject" }).toString();
  } catch {
    return undefined;
  }
}

export interface DealChange {
  readonly name?: string | undefined;
  /** In the currency's whole unit. */
  readonly value?: number | string | undefined;
  readonly expectedOn?: string | null | undefined;
  readonly ownerId?: string | null | undefined;
  readonly companyId?: string | null | undefined;
  readonly contactId?: string | null | undefined;
  readonly lines?:
    | readonly { readonly product: string; readonly quantity: number; readonly price: number | string }[]
    | undefined;
  readonly stage?: string | undefined;
  readonly reason?: string | undefined;
  /** The stage it was seen in: refused when somebody has moved it since. */
  readonly fromStage?: string | undefined;
  readonly nextStep?: { readonly note: string; readonly dueAt: number } | null | undefined;
  readonly doneTask?: string | undefined;
  readonly note?: string | undefined;
  readonly rank?: number | undefined;
}

/** Change a deal: what is known of it, where it stands, what comes next. All of it or nothing. */
export function changeDeal(world: World, by: string, dealId: string, change: DealChange): BookDecided {
  const { setup } = world;
  if (!personOf(setup, by)) return nobodyByThatId();
  const act = new BookAct(world, { kind: "person", id: by });
  const deal = act.book.record(dealId);
  if (!isDeal(deal) || deal.gone) return noSuchDeal();
  const read = fieldsOf(act, deal, change);
  if (!read.ok) return read;
  const { fields } = read;
  if (Object.keys(fields).length > 0) act.book.add(dealId, "changed", { fields });
  if (change.note?.trim()) act.book.add(dealId, "noted", { text: change.note.trim() });
  const done = change.doneTask && deal.tasks.find((t) => t.id === change.doneTask);
  if (change.doneTask && !done)
    return refuse("done-already", 409, "Done already", "Somebody has done this task.");
  if (done) act.book.add(dealId, "task-done", { taskId: done.id, note: done.note });
  if (change.stage !== undefined) {
    const moved = moveDeal(act, dealId, change.stage, change);
    if (moved) return moved;
  }
  const stepped = stepOf(act, dealId, change);
  if (stepped) return stepped;
  if (change.rank !== undefined && Number.isFinite(change.rank))
    act.book.add(dealId, "ranked", { rank: change.rank });
  return act.done();
}

function stepOf(act: BookAct, dealId: string, { nextStep }: DealChange): Refused | null {
  if (nextStep === undefined) return null;
  if (nextStep && nextStep.dueAt <= act.world.now)
    return refuse(
      "in-the-past",
      422,
      "In the past",
      "The next step must lie in the future.",
      "nextStep.dueAt",
    );
  if (nextStep && !nextStep.note.trim())
    return refuse("nothing-written", 422, "Nothing written", "Say what is to be done.", "nextStep.note");
  act.book.add(dealId, "step", { step: nextStep && { ...nextStep, note: nextStep.note.trim() } });
  return null;
}

type Fields = { readonly ok: true; readonly fields: Readonly<Record<string, unknown>> };

function fieldsOf(act: BookAct, deal: Deal, change: DealChange): Fields | Refused {
  const { setup } = act.world;
  const fields: Record<string, unknown> = {};
  const set = (key: keyof Deal, value: unknown) => {
    if (JSON.stringify(deal[key]) !== JSON.stringify(value)) fields[key] = value;
  };
  if (change.name !== undefined) {
    if (!change.name.trim())
      return refuse("it-needs-a-name", 422, "It needs a name", "Give the deal a name.", "name");
    set("name", change.name.trim());
  }
  if (change.lines !== undefined) {
    const lines = linesOf(setup, deal, change.lines);
    if ("ok" in lines) return lines;
    set("lines", lines);
    if (change.value === undefined && lines.length > 0)
      set(
        "value",
        lines.reduce((sum, l) => sum + l.quantity * l.price, 0),
      );
  }
  if (change.value !== undefined) {
    const value = toMinor(change.value, deal.currency);
    if (value === null || value < 0)
      return refuse(
        "not-a-sum",
        422,
        "Not a sum",
        `The value is a sum in ${deal.currency}, such as ${sayMoney(4_100_000, deal.currency)}.`,
        "value",
      );
    set("value", value);
  }
  if (change.expectedOn !== undefined) {
    const day = readDay(change.expectedOn);
    if (day === undefined)
      return refuse("not-a-day", 422, "Not a day", "Write the expected date as 2026-03-04.", "expectedOn");
    set("expectedOn", day);
  }
  if (change.ownerId !== undefined) {
    if (change.ownerId !== null && !personOf(setup, change.ownerId))
      return refuse(
        "nobody-by-that-id",
        422,
        "Nobody by that id",
        "Choose somebody who works here.",
        "ownerId",
      );
    set("ownerId", change.ownerId);
  }
  for (const [key, is] of [
    ["companyId", isCompany],
    ["contactId", isContact],
  ] as const) {
    const id = change[key];
    if (id === undefined) continue;
    const rec = act.book.survivor(id);
    if (id !== null && !is(rec))
      return refuse("not-in-the-book", 422, "Not in the book", `\`${key}\` names nobody in the book.`, key);
    set(key, rec?.id ?? null);
  }
  return { ok: true, fields };
}

function linesOf(setup: Setup, deal: Deal, lines: NonNullable<DealChange["lines"]>): Deal["lines"] | Refused {
  const read: { product: string; quantity: number; price: number }[] = [];
  for (const [i, { product, quantity, price }] of lines.entries()) {
    if (!setup.policies.products.some((p) => p.key === product))
      return refuse(
        "no-such-product",
        422,
        "No such product",
        "Choose one of the products.",
        `lines.${i}.product`,
      );
    if (!(Number.isInteger(quantity) && quantity >= 1 && quantity <= 100_000))
      return refuse("not-a-quantity", 422, "Not a quantity", "A whole number from 1.", `lines.${i}.quantity`);
    const one = toMinor(price, deal.currency);
    if (one === null || one < 0)
      return refuse("not-a-sum", 422, "Not a sum", `A sum in ${deal.currency}.`, `lines.${i}.price`);
    read.push({ product, quantity, price: one });
  }
  return read;
}

/** Move a deal to another stage; where that is an end, its reason says why, and what was won makes a customer. */
export function moveDeal(
  act: BookAct,
  dealId: string,
  to: string,
  {
    reason,
    fromStage,
    because,
  }: { reason?: string | undefined; fromStage?: string | undefined; because?: string },
): Refused | null {
  const { setup, now } = act.world;
  const { policies } = setup;
  const deal = act.book.record(dealId) as Deal;
  const stages = stagesOf(policies, "deal");
  const stage = named(stages, to);
  if (!stage)
    return refuse(
      "no-such-stage",
      422,
      "No such stage",
      `Give one of: ${stages.map((s) => s.name).join(", ")}.`,
      "stage",
    );
  if (fromStage !== undefined && fromStage !== deal.stage)
    return refuse(
      "moved-meanwhile",
      409,
      "Moved meanwhile",
      `Somebody has moved it to “${stageName(policies, deal.stage)}” meanwhile.`,
      "fromStage",
    );
  if (stage.key === deal.stage) return null;
  if (stage.from && stage.from.length > 0 && !stage.from.includes(deal.stage)) {
    const allowed = stage.from.map((key) => `“${stageName(policies, key)}”`).join(" or ");
    return refuse(
      "not-from-here",
      409,
      "Not from here",
      `A deal comes to “${stage.name}” from ${allowed}; this one is in “${stageName(policies, deal.stage)}”.`,
      "stage",
    );
  }
  const lacking = dealLacks(act, deal, stage);
  if (lacking) return lacking;
  let end: EndReason | null = null;
  if (stage.kind !== "open") {
    const found = endReason(reasonsOf(policies, "deal"), stage.kind, reason);
    if ("ok" in found) return found;
    end = found;
  }
  act.book.add(dealId, "moved", {
    from: deal.stage,
    to: stage.key,
    end: end && stage.kind !== "open" ? { kind: stage.kind, reason: end.name } : null,
    ...(because && { because }),
  });
  if (end?.againMonths)
    act.book.add(dealId, "step", {
      step: { note: `Ask again: ${end.name.toLowerCase()}`, dueAt: monthsOn(setup, now, end.againMonths) },
    });
  if (stage.kind === "won") wonBy(act, deal);
  act.tellHooks(
    stage.kind === "open" ? "deal.moved" : stage.kind === "won" ? "deal.won" : "deal.ended",
    dealId,
  );
  return null;
}

/** They bought: contact and lead are a customer's from now on. */
function wonBy(act: BookAct, deal: Deal): void {
  const contact = act.book.survivor(deal.contactId);
  if (isContact(contact) && !contact.customerSince)
    act.book.add(contact.id, "changed", { fields: { customerSince: act.world.now } });
  const { draft } = act;
  if (draft && !draft.lead.customer) draft.add("bought", { what: deal.name });
}

function dealLacks(act: BookAct, deal: Deal, stage: Stage): Refused | null {
  const { policies } = act.world.setup;
  const { lead } = act.world;
  const missing = stage.asks.flatMap((field) => {
    const ask = askOf(policies, field);
    if (!ask || isKnown(deal, lead, ask)) return [];
    return [
      { path: field, message: `${askName(policies, ask)} is not known yet.`, name: askName(policies, ask) },
    ];
  });
  if (missing.length === 0) return null;
  return {
    ok: false,
    problem: {
      code: "facts-are-missing",
      status: 409,
      title: "Something is not known yet",
      detail: `Before “${stage.name}” one must know: ${missing.map((m) => m.name).join(", ")}.`,
      errors: missing.map(({ path, message }) => ({ path, message })),
    },
  };
}

function isKnown(deal: Deal, lead: World["lead"], ask: string): boolean {
  const estimates = lead?.estimates ?? [];
  switch (ask) {
    case "worth":
      return deal.value > 0;
    case "expectedOn":
      return deal.expectedOn !== null;
    case "products":
      return deal.lines.length > 0;
    case "estimate":
      return estimates.some((e) => e.state === "sent" || e.state === "accepted");
    case "accepted":
      return estimates.some((e) => e.state === "accepted");
    default:
      return Object.hasOwn(DEAL_ASKS, ask) || (lead !== null && answerTo(lead, ask as AskKey) !== null);
  }
}

/** Deals of the lead follow what becomes of an estimate, forward only: what stands further on stays. */
export function followEstimate(
  act: BookAct,
  leadId: string,
  happened: "sent" | "accepted" | "declined",
): void {
  const stages = stagesOf(act.world.setup.policies, "deal");
  const stage = stages.find((s) => s.when === happened && s.kind === "open");
  if (!stage) return;
  for (const id of act.world.book.dealsOf(leadId)) {
    const deal = act.book.record(id);
    if (!isDeal(deal) || deal.gone || deal.closed) continue;
    const further = stages.findIndex((s) => s.key === deal.stage) >= stages.indexOf(stage);
    // Where the stage asks for more than that, a person moves it.
    if (!further) moveDeal(act, id, stage.key, { because: `the estimate was ${happened}` });
  }
}

/** Take back what an act did to the book: each record is as it was, or gone. Refused when somebody has worked on one since. */
export function takeBack(
  book: BookDraft,
  world: { readonly book: BookWorld },
  actId: string,
  what: string,
): Refused | null {
  for (const id of world.book.ofAct(actId)) {
    const events = world.book.events(id);
    const first = events.findIndex((e) => e.actId === actId);
    const last = events.findLastIndex((e) => e.actId === actId);
    if (events.slice(last + 1).some((e) => !isPassedOver(e)))
      return refuse(
        "too-late-to-undo",
        409,
        "Too late to undo",
        `Somebody has worked on ${book.record(id)?.name ?? "it"} since. Change it by hand instead.`,
      );
    const prior = foldRecords(events.slice(0, first));
    book.add(id, "taken-back", { actId, what, fields: prior && restorableRecord(prior) });
  }
  return null;
}

/** Kinds of event whose act is more than what the book tells of it: it is not taken back from there. */
const WHOLE_ACTS: ReadonlySet<string> = new Set(["made", "linked", "taken-back"]);

/** Take back an act that changed the book alone. */
export function undoBook(world: World, by: string, actId: string): BookDecided {
  if (world.book.ofAct(actId).length === 0)
    return refuse("cant-be-undone", 409, "Can't be undone", "There is no such act.");
  const events = world.book
    .ofAct(actId)
    .flatMap((id) => world.book.events(id).filter((e) => e.actId === actId));
  if (events.some((e) => WHOLE_ACTS.has(e.kind)))
    return refuse(
      "cant-be-undone",
      409,
      "Can't be undone",
      "Handing over is undone on the lead, and what was undone stays so.",
    );
  const act = new BookAct({ ...world, lead: null }, { kind: "person", id: by });
  return takeBack(act.book, world, actId, "the change") ?? act.done();
}
