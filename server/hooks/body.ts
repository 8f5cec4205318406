import type { Company, Contact, Deal, Rec } from "../../core/book/records.ts";
import type { LeadEvent } from "../../core/lead/events.ts";
import type { Lead } from "../../core/lead/lead.ts";
import { jsonBy } from "../../core/message/template.ts";
import { fromMinor } from "../../core/money/money.ts";
import type { HookSends } from "../../core/policy/hooks.ts";
import { nameOf, type Setup, valueNames } from "../../core/policy/setup.ts";
import { stageName } from "../../core/policy/stages.ts";
import { valuesOf } from "../../core/words/columns.ts";
import { describeEvent } from "../../core/words/describe.ts";

const iso = (at: number | null) => (at === null ? null : new Date(at).toISOString());

const companyBody = ({ id, name, domain, phone, address, postalCode }: Company) => ({
  id,
  name,
  domain,
  phone,
  address,
  postalCode,
});

const contactBody = ({ id, name, role, companyId, emails, phones, address, language }: Contact) => ({
  id,
  name,
  role,
  companyId,
  emails,
  phones,
  address,
  language,
});

function dealBody(setup: Setup, deal: Deal) {
  return {
    id: deal.id,
    name: deal.name,
    stage: deal.stage,
    stageName: stageName(setup.policies, deal.stage),
    value: fromMinor(deal.value, deal.currency),
    currency: deal.currency,
    expectedOn: deal.expectedOn,
    owner: deal.ownerId && { id: deal.ownerId, name: nameOf(setup, deal.ownerId) },
    source: setup.sources.find((s) => s.id === deal.sourceId)?.name ?? null,
    lines: deal.lines.map(({ product, quantity, price }) => ({
      product,
      name: valueNames.product(setup, product),
      quantity,
      price: fromMinor(price, deal.currency),
    })),
    closed: deal.closed && { ...deal.closed, at: iso(deal.closed.at) },
  };
}

const leadBody = (setup: Setup, lead: Lead) => ({
  id: lead.id,
  name: lead.name,
  emails: lead.emails,
  phones: lead.phones,
  company: lead.company,
  stage: lead.stage,
  stageName: stageName(setup.policies, lead.stage),
  source: setup.sources.find((s) => s.id === lead.sourceId)?.name ?? null,
  product: lead.facts.product,
  message: lead.facts.message,
  own: lead.facts.own,
  tags: lead.tags,
  estimates: lead.estimates
    .filter((e) => e.state !== "replaced")
    .map(({ number, version, name, total, currency, state, sentAt }) => ({
      number,
      version,
      name,
      total: fromMinor(total, currency),
      currency,
      state,
      sentAt: iso(sentAt),
    })),
});

/** What other systems get, and what is handed over as JSON: the same, whichever way it goes. */
export function handedOverBody(
  setup: Setup,
  record: (id: string) => Rec | null,
  { lead, deal }: { readonly lead: Lead | null; readonly deal: Deal | null },
) {
  const over = lead?.handedOver ?? null;
  const company = record(deal?.companyId ?? over?.companyId ?? "");
  const contact = record(deal?.contactId ?? over?.contactId ?? "");
  return {
    lead: lead && leadBody(setup, lead),
    company: company?.kind === "company" ? companyBody(company) : null,
    contact: contact?.kind === "contact" ? contactBody(contact) : null,
    deal: deal && dealBody(setup, deal),
  };
}

/** What a delivery is about. */
export interface About {
  readonly lead: Lead | null;
  readonly deal: Deal | null;
  /** The event it tells of, where it is not told by name. */
  readonly event: LeadEvent | null;
}

/** What happened, for programs: its kind and what it carries, and the sentence people read. */
const eventBody = (setup: Setup, event: LeadEvent) => ({
  id: event.id,
  kind: event.kind,
  at: iso(event.at),
  said: describeEvent(event, setup),
  by:
    event.actor.kind === "person"
      ? { id: event.actor.id, name: nameOf(setup, event.actor.id) }
      : event.actor.kind,
  data: event.data,
});

/**
 * The body of one delivery, as Standard Webhooks has it: what happened, when, and what it is about. A template that does not
 * come to JSON is left aside, and all there is goes instead: what happened is told in any case.
 */
export function hookBody(
  setup: Setup,
  record: (id: string) => Rec | null,
  sends: HookSends = { kind: "whole" },
  type: string,
  about: About,
  at: number,
): string {
  const timestamp = iso(at);
  const { lead, event } = about;
  const happened = event && { event: eventBody(setup, event) };
  if (sends.kind === "fields") {
    const fields = lead && { id: lead.id, ...valuesOf(lead, sends.fields, setup, at) };
    return JSON.stringify({ type, timestamp, data: { ...happened, lead: fields } });
  }
  const whole = { type, timestamp, data: { ...happened, ...handedOverBody(setup, record, about) } };
  if (sends.kind === "template") {
    const written = jsonBy(sends.template, whole);
    if (written.ok) return written.json;
  }
  return JSON.stringify(whole);
}
