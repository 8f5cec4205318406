import { isPassedOver } from "../../core/book/events.ts";
import { type Deal, isCompany, isContact, isDeal } from "../../core/book/records.ts";
import { knownInputs } from "../../core/desk/estimates.ts";
import { nameOrNumber } from "../../core/lead/called.ts";
import type { Estimate } from "../../core/lead/lead.ts";
import { fromMinor, sayMoney } from "../../core/money/money.ts";
import { nameOf } from "../../core/policy/setup.ts";
import { reasonsOf, stagesOf } from "../../core/policy/stages.ts";
import type { Worksheet } from "../../core/policy/worksheet.ts";
import {
  boardOf,
  driftOf,
  recordOf,
  type Slip,
  type StageRecord,
  slipsOf,
  urgency,
} from "../../core/report/board.ts";
import { inDays } from "../../core/time/defer.ts";
import { duration, localDate, sayDay, timeBeside } from "../../core/time/words.ts";
import { FUNCTION_NAMES } from "../../core/worksheet/formula.ts";
import { workOut } from "../../core/worksheet/reckon.ts";
import type { Desk } from "../../server/desk.ts";
import type * as wire from "./customer-schemas.ts";
import { iso, isoOrNull } from "./shape.ts";
import { leadRefs, leadsOf, productName, survivorOf, threadOf } from "./shape-customers.ts";

const DAY = 86_400_000;
const HOUR = 3_600_000;
const MINUTE = 60_000;

interface Around {
  readonly now: number;
  readonly today: string;
  readonly weekEnd: string;
}

function around(desk: Desk): Around {
  const now = desk.clock.now();
  const { zone } = desk.setup.policies.desk;
  return { now, today: localDate(now, zone), weekEnd: localDate(inDays(now, zone, { days: 6 }), zone) };
}

/** A slip in words. */
function slipSaid(slip: Slip, deal: Deal, { now }: Around, zone: string): string {
  switch (slip) {
    case "expected-past":
      return `expected ${sayDay(deal.expectedOn!, zone, now)}, and that is past`;
    case "expected-soon":
      return `expected ${sayDay(deal.expectedOn!, zone, now)}`;
    case "step-overdue":
      return `“${deal.nextStep!.note}” was due ${timeBeside(deal.nextStep!.dueAt, zone, now)}`;
    case "no-step":
      return "nothing is planned";
    case "long":
      return "longer here than four of five deals";
  }
}

/** Days and hours as people say how long something stands somewhere. */
const staySaid = (ms: number): string =>
  ms >= 2 * DAY
    ? `${Math.floor(ms / DAY)} days`
    : duration(ms >= HOUR ? Math.floor(ms / HOUR) * HOUR : Math.floor(ms / MINUTE) * MINUTE);

export function toCard(desk: Desk, deal: Deal, record: StageRecord, at = around(desk)): wire.DealCard {
  const { setup } = desk;
  const { zone } = setup.policies.desk;
  const contact = survivorOf(desk, deal.contactId);
  const company = survivorOf(desk, deal.companyId);
  const slips = deal.closed ? [] : slipsOf(deal, record, at);
  const stay = at.now - deal.since;
  return {
    id: deal.id,
    name: deal.name,
    who: company?.name ?? contact?.name ?? deal.name,
    what:
      deal.lines
        .map((l) => `${l.quantity > 1 ? `${l.quantity} × ` : ""}${productName(desk, l.product)}`)
        .join(", ") || null,
    stage: deal.stage,
    value: fromMinor(deal.value, deal.currency),
    currency: deal.currency,
    since: iso(deal.since),
    stay: staySaid(stay),
    drift: driftOf(stay, record),
    expectedOn: deal.expectedOn,
    nextStep: deal.nextStep && { note: deal.nextStep.note, dueAt: iso(deal.nextStep.dueAt) },
    tasks: deal.tasks.length,
    owner: deal.ownerId === null ? null : { id: deal.ownerId, name: nameOf(setup, deal.ownerId) },
    source: setup.sources.find((s) => s.id === deal.sourceId)?.name ?? null,
    slips: [...slips],
    slipSaid: slips.map((slip) => slipSaid(slip, deal, at, zone)),
    urgency: urgency(deal, slips, at.now),
    rank: deal.rank,
    closed: deal.closed && { ...deal.closed, at: iso(deal.closed.at) },
  };
}

/** What a person may see of the deals: everybody's, or their own. */
export function dealsFor(desk: Desk, me: string, all: boolean) {
  const { open, closed } = desk.looker.book.deals();
  const mine = (deal: Deal) => all || deal.ownerId === me;
  return {
    open: open.filter(isDeal).filter(mine),
    closed: closed.filter(isDeal),
    closedMine: closed.filter(isDeal).filter(mine),
  };
}

export function toBoard(desk: Desk, me: string, all: boolean): wire.Board {
  const { setup } = desk;
  const { policies } = setup;
  const { currency } = policies.company;
  const { open, closed, closedMine } = dealsFor(desk, me, all);
  const at = around(desk);
  const since = at.now - 30 * DAY;
  const stages = stagesOf(policies, "deal");
  const everyOpen = all ? open : desk.looker.book.deals().open.filter(isDeal);
  const columns = boardOf(
    stages.filter((s) => s.of === "deal" || open.some((d) => d.stage === s.key)),
    open,
    closed,
  ).map((column) =>
    all ? column : { ...column, record: recordOf(column.stage.key, [...everyOpen, ...closed]) },
  );
  const whole = (minor: number) => fromMinor(minor, currency);
  return {
    now: iso(at.now),
    currency,
    columns: columns.map(({ stage, deals, sum, expected, record }) => ({
      stage: stage.key,
      name: stage.name,
      count: deals.length,
      sum: whole(sum),
      expected: expected && whole(expected.sum),
      low: expected && whole(expected.low),
      high: expected && whole(expected.high),
      ended: record.ended,
      won: record.won,
      slackDays: record.slack === null ? null : record.slack / DAY,
      deals: deals.map((deal) => toCard(desk, deal, record, at)),
    })),
    ends: stages
      .filter((s) => s.kind !== "open" && s.of === "deal")
      .map((s) => {
        const here = closedMine.filter((d) => d.stage === s.key && d.closed!.at >= since);
        return {
          stage: s.key,
          name: s.name,
          kind: s.kind as "won" | "lost" | "none",
          reasons: reasonsOf(policies, "deal")
            .filter((r) => r.kind === s.kind)
            .map((r) => r.name),
          lately: here.length,
          sum: whole(here.reduce((total, d) => total + d.value, 0)),
        };
      }),
    owners: [...new Set(open.map((d) => d.ownerId))].flatMap((id) =>
      id ? [{ id, name: nameOf(setup, id) }] : [],
    ),
    sources: [...new Set(open.map((d) => setup.sources.find((s) => s.id === d.sourceId)?.name))].flatMap(
      (n) => n ?? [],
    ),
  };
}

export function toDeal(desk: Desk, deal: Deal): wire.Deal {
  const { setup } = desk;
  const { policies, people } = setup;
  const { open, closed } = desk.looker.book.deals();
  const record = recordOf(deal.stage, [...open, ...closed].filter(isDeal));
  const company = survivorOf(desk, deal.companyId);
  const contact = survivorOf(desk, deal.contactId);
  const leads = leadsOf(desk, deal.leadIds);
  const events = desk.looker.book.events(deal.id);
  const last = events.findLast((e) => !isPassedOver(e));
  const undoable = last && last.kind !== "taken-back" && last.kind !== "made" && last.actor.kind === "person";
  return {
    ...toCard(desk, deal, record),
    companyId: company?.id ?? null,
    contactId: contact?.id ?? null,
    company: isCompany(company) ? { id: company.id, name: company.name } : null,
    contact: isContact(contact) ? { id: contact.id, name: contact.name } : null,
    leadIds: [...deal.leadIds],
    leads: leadRefs(desk, leads),
    lines: deal.lines.map(({ product, quantity, price }) => ({
      product,
      name: productName(desk, product),
      quantity,
      price: fromMinor(price, deal.currency),
    })),
    taskList: deal.tasks.map(({ id, note, dueAt, to }) => ({ id, note, dueAt: iso(dueAt), to: [...to] })),
    theirs: { ...deal.theirs },
    stages: stagesOf(policies, "deal").map(({ key, name, kind }) => ({
      key,
      name,
      kind,
      reasons:
        kind === "open"
          ? []
          : reasonsOf(policies, "deal")
              .filter((r) => r.kind === kind)
              .map((r) => r.name),
    })),
    products: policies.products.map(({ key, name, value }) => ({ key, name, value })),
    people: people.filter((p) => !p.left).map(({ id, name }) => ({ id, name })),
    estimates: leads.flatMap((lead) =>
      lead.estimates.map((e) => ({
        id: e.id,
        number: e.number,
        total: fromMinor(e.total, e.currency),
        state: e.state,
        leadId: lead.id,
      })),
    ),
    thread: threadOf(desk, [deal], leads),
    undo: undoable ? last.actId : null,
  };
}

export function toEstimate(estimate: Estimate): wire.Estimate {
  const { currency } = estimate;
  const { id, number, version, name, worksheetId, taxName, state, inputs } = estimate;
  return {
    id,
    number,
    version,
    name,
    worksheetId,
    taxName,
    state,
    currency,
    inputs: inputs.map((i) => ({ ...i })),
    lines: estimate.lines.map((l) => ({
      ...l,
      amount: fromMinor(l.amount, currency),
      said: sayMoney(l.amount, currency),
    })),
    net: fromMinor(estimate.net, currency),
    tax: fromMinor(estimate.tax, currency),
    total: fromMinor(estimate.total, currency),
    totalSaid: sayMoney(estimate.total, currency),
    madeAt: iso(estimate.madeAt),
    validUntil: iso(estimate.validUntil),
    sentAt: isoOrNull(estimate.sentAt),
    answered: estimate.answered && { ...estimate.answered, at: iso(estimate.answered.at) },
    pdf:
      estimate.file && `/api/v1/files/${estimate.file.fileId}?name=${encodeURIComponent(estimate.file.name)}`,
  };
}

/** The worksheets an estimate of a lead can be made by, those for its product first, with what is known filled in. */
export function toLeadEstimates(desk: Desk, leadId: string): wire.LeadEstimates {
  const { policies } = desk.setup;
  const world = desk.look(leadId);
  const lead = world.lead!;
  const fits = (sheet: Worksheet) => sheet.product === null || sheet.product === lead.facts.product;
  return {
    worksheets: [...policies.worksheets]
      .sort((a, b) => Number(fits(b)) - Number(fits(a)))
      .map((sheet) => {
        const known = knownInputs(world, sheet);
        return {
          id: sheet.id,
          name: sheet.name,
          fits: fits(sheet),
          inputs: sheet.inputs.map((input) => ({
            ...input,
            value: known[input.key] ?? input.usual ?? "",
            known: known[input.key] !== undefined,
          })),
        };
      }),
    estimates: lead.estimates.map(toEstimate).reverse(),
    currency: policies.company.currency,
    mail: lead.emails[0] ?? null,
  };
}

/** What a worksheet comes to with these inputs, line by line as far as it can be reckoned. */
export function toWorkedOut(
  desk: Desk,
  sheet: Worksheet,
  inputs: Readonly<Record<string, string | number>>,
): wire.WorkedOut {
  const { currency } = desk.setup.policies.company;
  const result = workOut(sheet, inputs, currency);
  if (!result.ok)
    return {
      ok: false,
      lines: [],
      tax: "",
      total: "",
      faults: result.faults.map(({ path, message, at }) => ({ path, message, at: at ?? null })),
    };
  return {
    ok: true,
    lines: result.lines.map((l) => ({
      ...l,
      amount: fromMinor(l.amount, currency),
      said: sayMoney(l.amount, currency),
    })),
    tax: sayMoney(result.tax, currency),
    total: sayMoney(result.total, currency),
    faults: [],
  };
}

export function toWorksheets({ setup }: Desk): wire.WorksheetsSetup {
  const { policies } = setup;
  return {
    worksheets: policies.worksheets.map((w) => ({
      ...w,
      inputs: w.inputs.map((i) => ({ ...i })),
      lines: w.lines.map((l) => ({ ...l })),
    })),
    layout: { ...policies.layout },
    fields: [
      { key: "value", name: "Typical value of the product" },
      ...policies.fields
        .filter((f) => f.type === "number" || f.type === "money")
        .map((f) => ({ key: `own.${f.key}`, name: f.name })),
    ],
    products: policies.products.map(({ key, name }) => ({ key, name })),
    currency: policies.company.currency,
    functions: [...FUNCTION_NAMES],
  };
}

/** Notes in which somebody is asked something, the oldest first. */
export function toAsked(desk: Desk, personId: string): wire.AskedOf {
  const { setup } = desk;
  return {
    items: desk.reader.askedOf(personId).flatMap(({ leadId, noteId }) => {
      const lead = desk.looker.lead(leadId);
      const asked = lead?.asked.find((a) => a.noteId === noteId);
      if (!lead || !asked) return [];
      return [
        {
          leadId,
          lead: nameOrNumber(lead),
          noteId,
          by: nameOf(setup, asked.by),
          text: asked.text,
          at: iso(asked.at),
        },
      ];
    }),
  };
}
