import { nameOrNumber } from "../lead/called.ts";
import type { Estimate } from "../lead/lead.ts";
import { calendarAround } from "../policy/people.ts";
import { personOf } from "../policy/setup.ts";
import type { Worksheet } from "../policy/worksheet.ts";
import { type Refused, refuse } from "../refusal.ts";
import { endOfDay, inDays, inDaysWhenOpen } from "../time/defer.ts";
import type { Attachment } from "../vocabulary.ts";
import { type Reckoned, workOut } from "../worksheet/reckon.ts";
import { BookAct, followEstimate } from "./deals.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { leadIsClosed, nobodyByThatId, noSuchLead } from "./refusals.ts";
import { tell } from "./tell.ts";
import { addWriting } from "./try.ts";
import { sendByHand } from "./work.ts";

export interface EstimateOrder {
  /** The worksheet's id or name. */
  readonly worksheet: string;
  readonly inputs: Readonly<Record<string, string | number>>;
  /** Of an estimate that this one replaces: it is its next version then. */
  readonly replaces?: string | undefined;
}

/** An estimate as it would be made now, without its document. */
export type Drawn = { readonly ok: true; readonly estimate: Estimate } | Refused;

const noSuchEstimate = (): Refused =>
  refuse("no-such-estimate", 404, "No such estimate", "There is no estimate with that id.");

/** Number and version an estimate gets: a new one the desk's next. */
function numbered(draft: Draft, order: EstimateOrder): { number: string; version: number } | Refused {
  if (!order.replaces) return { number: String(1000 + draft.count("estimate")), version: 1 };
  const { estimates } = draft.lead;
  const old = estimates.find((e) => e.id === order.replaces || e.number === order.replaces);
  if (!old) return noSuchEstimate();
  const version = 1 + Math.max(...estimates.filter((e) => e.number === old.number).map((e) => e.version));
  return { number: old.number, version };
}

/** What is filled in of a worksheet by what is known of the lead: what is typed goes before it. */
export function knownInputs(world: World, sheet: Worksheet): Readonly<Record<string, string>> {
  const { lead } = world;
  if (!lead) return {};
  return Object.fromEntries(
    sheet.inputs.flatMap(({ key, from }) => {
      if (!from) return [];
      const value = from === "value" ? lead.facts.value : lead.facts.own[from.replace(/^own\./, "")];
      return typeof value === "number" ? [[key, String(value)]] : [];
    }),
  );
}

/** Work an estimate out for the world's lead. Every fault names its input or line. */
function draw(draft: Draft, by: string, order: EstimateOrder): Drawn {
  const { world } = draft;
  const { policies } = world.setup;
  const sheet = policies.worksheets.find((w) => w.id === order.worksheet || w.name === order.worksheet);
  if (!sheet)
    return refuse(
      "no-such-worksheet",
      422,
      "No such worksheet",
      policies.worksheets.length > 0
        ? `Choose one of: ${policies.worksheets.map((w) => w.name).join(", ")}.`
        : "Make a worksheet under Set-up, Worksheets first.",
      "worksheet",
    );
  const reckoned = workOut(
    sheet,
    { ...knownInputs(world, sheet), ...order.inputs },
    policies.company.currency,
  );
  if (!reckoned.ok)
    return {
      ok: false,
      problem: {
        code: "cant-be-worked-out",
        status: 422,
        title: "It can’t be worked out",
        detail: reckoned.faults.map((f) => f.message).join(" "),
        errors: reckoned.faults.map(({ path, message }) => ({ path, message })),
      },
    };
  const which = numbered(draft, order);
  return "ok" in which ? which : { ok: true, estimate: estimateOf(draft, by, sheet, reckoned, which) };
}

function estimateOf(
  { world: { now, setup, id } }: Draft,
  by: string,
  sheet: Worksheet,
  { lines, inputs, net, tax, total }: Reckoned,
  which: { readonly number: string; readonly version: number },
): Estimate {
  const { zone } = setup.policies.desk;
  return {
    id: id("est"),
    ...which,
    worksheetId: sheet.id,
    worksheetVersion: sheet.version,
    name: sheet.name,
    inputs,
    lines,
    net,
    tax,
    taxName: sheet.taxName,
    total,
    currency: setup.policies.company.currency,
    terms: sheet.terms,
    madeAt: now,
    by,
    validUntil: endOfDay(inDays(now, zone, { days: sheet.validDays }), zone) - 1,
    file: null,
    state: "draft",
    sentAt: null,
    answered: null,
  };
}

/** An estimate as it would be made now: nothing is kept of it, and it has taken no number. */
export function drawEstimate(world: World, by: string, order: EstimateOrder): Drawn {
  if (!world.lead) return noSuchLead();
  return draw(new Draft(world, { kind: "person", id: by }), by, order);
}

/**
 * Make an estimate with its document, which was printed for `drawn`. Null when the number has gone to another meanwhile:
 * the document must be printed again.
 */
export function makeEstimate(
  world: World,
  by: string,
  order: EstimateOrder,
  drawn: Estimate,
  file: Attachment,
): Decided | null {
  const { lead } = world;
  if (!lead) return noSuchLead();
  if (!personOf(world.setup, by)) return nobodyByThatId();
  if (lead.closed && !lead.handedOver) return leadIsClosed();
  const draft = new Draft(world, { kind: "person", id: by });
  const again = draw(draft, by, order);
  if (!again.ok) return again;
  const { estimate } = again;
  if (estimate.number !== drawn.number || estimate.version !== drawn.version) return null;
  draft.add("estimate-made", { estimate: { ...drawn, file } });
  return draft.done();
}

export interface SendEstimate {
  readonly subject?: string | undefined;
  readonly body: string;
}

/**
 * Send an estimate by mail with its document. It counts as a try, a call about it is the next step, and deals of the lead
 * follow.
 */
export function sendEstimate(
  world: World,
  by: string,
  estimateId: string,
  { subject, body }: SendEstimate,
): Decided {
  const { lead, setup, now } = world;
  if (!lead) return noSuchLead();
  if (!personOf(setup, by)) return nobodyByThatId();
  const estimate = lead.estimates.find((e) => e.id === estimateId);
  if (!estimate) return noSuchEstimate();
  if (lead.closed && !lead.handedOver) return leadIsClosed();
  if (estimate.state !== "draft" && estimate.state !== "sent")
    return refuse(
      "not-to-be-sent",
      409,
      "It can’t be sent",
      estimate.state === "replaced"
        ? "A newer version has replaced it. Send that one."
        : `They have ${estimate.state} it. Make a new version to send another.`,
    );
  if (estimate.validUntil < now)
    return refuse(
      "no-longer-valid",
      409,
      "No longer valid",
      "Its price held until then. Make a new version.",
    );
  const draft = new Draft(world, { kind: "person", id: by });
  const refused = sendByHand(draft, {
    personId: by,
    channel: "email",
    subject: subject?.trim() || `Estimate ${estimate.number} from ${setup.policies.company.name}`,
    body,
    ...(estimate.file && { attachments: [estimate.file] }),
  });
  if (refused) return refused;
  draft.add("estimate-sent", { estimateId, number: estimate.number });
  if (!draft.lead.closed) addWriting(draft, by, "email");
  const note = "Follow up on the estimate";
  const dueAt = inDaysWhenOpen(now, calendarAround(setup.policies.desk, now), { days: 1, at: "09:00" });
  const act = new BookAct(world, { kind: "person", id: by }, draft);
  if (draft.lead.closed)
    for (const id of openDeals(act, lead.id)) act.book.add(id, "step", { step: { note, dueAt } });
  else draft.add("next-step", { step: { kind: "call", dueAt, note, personId: draft.lead.ownerId ?? by } });
  followEstimate(act, lead.id, "sent");
  draft.tellHooks("estimate.sent");
  return draft.done();
}

const openDeals = (act: BookAct, leadId: string) =>
  act.world.book.dealsOf(leadId).filter((id) => {
    const deal = act.book.record(id);
    return deal?.kind === "deal" && !deal.gone && !deal.closed;
  });

export interface EstimateAnswer {
  readonly answer: "accepted" | "declined";
  readonly name: string;
  readonly words?: string | undefined;
}

/**
 * They answer an estimate, on the page they were sent or told to one of ours (`by`). It is a signal: whoever has the lead
 * hears of it, and deals follow. The first answer counts.
 */
export function answerEstimate(
  world: World,
  by: string | null,
  estimateId: string,
  { answer, name, words }: EstimateAnswer,
): Decided {
  const { lead, now } = world;
  if (!lead) return noSuchLead();
  const estimate = lead.estimates.find((e) => e.id === estimateId);
  if (!estimate) return noSuchEstimate();
  if (estimate.answered)
    return refuse(
      "answered-already",
      409,
      "Answered already",
      `It was ${estimate.state === "declined" ? "declined" : "accepted"} by ${estimate.answered.name}.`,
    );
  if (estimate.state === "replaced")
    return refuse("replaced", 409, "Replaced", "There is a newer version of this estimate.");
  if (estimate.state === "draft" && by === null)
    return refuse("not-sent", 409, "Not sent", "This estimate has not been sent.");
  if (estimate.validUntil < now && answer === "accepted" && by === null)
    return refuse("no-longer-valid", 409, "No longer valid", "The price held until then. Ask for a new one.");
  if (!name.trim()) return refuse("name-missing", 422, "Name is missing", "Write your name.", "name");
  const draft = new Draft(world, by ? { kind: "person", id: by } : { kind: "lead" });
  const desk = { actor: { kind: "desk" } } as const;
  if (!by && draft.lead.closed && !draft.lead.handedOver) draft.add("reopened", {}, desk);
  draft.add("estimate-answered", {
    estimateId,
    number: estimate.number,
    answer,
    name: name.trim().slice(0, 200),
    words: words?.trim().slice(0, 2_000) || null,
  });
  const act = new BookAct(world, by ? { kind: "person", id: by } : { kind: "lead" }, draft);
  followEstimate(act, lead.id, answer);
  draft.tellHooks("estimate.answered");
  const owners = [draft.lead.ownerId, ...openDeals(act, lead.id).map((id) => ownerOf(act, id))];
  const whom = [...new Set(owners)].filter((id): id is string => !!id && id !== by);
  tell(draft, whom, "reply", {
    heading: `${nameOrNumber(draft.lead)} has ${answer} estimate ${estimate.number}`,
  });
  return draft.done();
}

const ownerOf = (act: BookAct, id: string) => {
  const deal = act.book.record(id);
  return deal?.kind === "deal" ? deal.ownerId : null;
};
