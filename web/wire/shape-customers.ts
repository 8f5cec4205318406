import { BookDraft } from "../../core/book/draft.ts";
import { type BookEvent, sayBookEvent } from "../../core/book/events.ts";
import {
  BOOK_WEIGHTS,
  companyKeys,
  companyLikeness,
  contactKeys,
  contactLikeness,
} from "../../core/book/match.ts";
import {
  type Company,
  type Contact,
  type Deal,
  isCompany,
  isContact,
  isDeal,
  type Rec,
} from "../../core/book/records.ts";
import { openRuns } from "../../core/cadence/run.ts";
import { readablePhone } from "../../core/contact/readable-phone.ts";
import { candidates, companyOf, firstDealStage } from "../../core/desk/hand-over.ts";
import { nameOrNumber } from "../../core/lead/called.ts";
import { entryOf } from "../../core/lead/events.ts";
import { factsOf } from "../../core/lead/fields.ts";
import type { Lead } from "../../core/lead/lead.ts";
import { missingFor } from "../../core/lead/qualify.ts";
import { fromMinor, nearestMinor } from "../../core/money/money.ts";
import { nameOf, valueNames } from "../../core/policy/setup.ts";
import { stageName, stagesOf } from "../../core/policy/stages.ts";
import { dateTime } from "../../core/time/words.ts";
import { STAGE } from "../../core/vocabulary.ts";
import { describeEvent } from "../../core/words/describe.ts";
import type { Desk } from "../../server/desk.ts";
import type * as wire from "./customer-schemas.ts";
import { iso, isoOrNull } from "./shape.ts";

/** How many events of everything that ever happened are shown at once. */
const MOST_TOLD = 300;

const book = (desk: Desk) => desk.looker.book;

/** The record that goes on being worked where one was joined to another; null when it is not there. */
export function survivorOf(desk: Desk, id: string | null): Rec | null {
  return new BookDraft(desk.look(null), { kind: "desk" }, "").survivor(id);
}

const dealsOf = (desk: Desk, rec: Company | Contact): Deal[] =>
  [
    rec.id,
    ...book(desk)
      .joinedTo(rec.id)
      .map((r) => r.id),
  ]
    .flatMap((id) => [...book(desk).dealsOf(id)])
    .filter((id, i, all) => all.indexOf(id) === i)
    .flatMap((id) => {
      const deal = book(desk).record(id);
      return isDeal(deal) && !deal.gone ? [deal] : [];
    });

const contactsOf = (desk: Desk, company: Company): Contact[] => {
  const ids = new Set([
    company.id,
    ...book(desk)
      .joinedTo(company.id)
      .map((r) => r.id),
  ]);
  return [...ids]
    .flatMap((id) => desk.looker.book.contactsOf(id))
    .filter((c): c is Contact => isContact(c) && !c.gone && !c.joinedTo);
};

export function toCompanyRow(desk: Desk, company: Company): wire.CompanyRow {
  const deals = dealsOf(desk, company);
  const { currency } = desk.setup.policies.company;
  const { id, name, domain, phone, address, postalCode, lastActivityAt } = company;
  return {
    id,
    name,
    domain,
    phone,
    address,
    postalCode,
    contacts: contactsOf(desk, company).length,
    deals: deals.length,
    won: fromMinor(
      deals.filter((d) => d.closed?.kind === "won").reduce((sum, d) => sum + d.value, 0),
      currency,
    ),
    currency,
    lastActivityAt: iso(lastActivityAt),
  };
}

export function toContactRow(desk: Desk, contact: Contact): wire.ContactRow {
  const company = survivorOf(desk, contact.companyId);
  const { id, name, role, emails, phones, address, language, customerSince, lastActivityAt } = contact;
  return {
    id,
    name,
    role,
    company: company && { id: company.id, name: company.name },
    emails: [...emails],
    phones: [...phones],
    address,
    language,
    customerSince: isoOrNull(customerSince),
    deals: dealsOf(desk, contact).length,
    lastActivityAt: iso(lastActivityAt),
  };
}

const actorOf = (desk: Desk, { actor }: Pick<BookEvent, "actor">) =>
  actor.kind === "person" ? nameOf(desk.setup, actor.id) : actor.kind === "lead" ? "them" : "the desk";

/** Everything that ever happened to some records and the leads they came from, the newest first. */
export function threadOf(
  desk: Desk,
  records: readonly Rec[],
  leads: readonly Lead[],
): { at: string; actor: string; said: string; what: string | null }[] {
  const own = records.flatMap((rec) =>
    desk.looker.book.events(rec.id).map((e) => ({
      at: e.at,
      seq: e.seq,
      actor: actorOf(desk, e),
      said: sayBookEvent(e, desk.setup),
      what: records.length > 1 ? rec.name : null,
    })),
  );
  const talked = leads.flatMap((lead) =>
    desk.reader.events(lead.id).flatMap((e) => {
      if (!entryOf(e).talk) return [];
      const body =
        "body" in e.data ? `: ${e.data.body}` : "text" in e.data && e.data.text ? `: ${e.data.text}` : "";
      return [
        {
          at: e.at,
          seq: e.seq,
          actor: actorOf(desk, e),
          said: `${describeEvent(e, desk.setup)}${body}`.slice(0, 600),
          what: `lead ${nameOrNumber(lead)}`,
        },
      ];
    }),
  );
  return [...own, ...talked]
    .sort((a, b) => b.at - a.at || b.seq - a.seq)
    .slice(0, MOST_TOLD)
    .map(({ at, actor, said, what }) => ({ at: iso(at), actor, said, what }));
}

export function leadRefs(desk: Desk, leads: readonly Lead[]) {
  return leads.map((lead) => ({
    id: lead.id,
    name: nameOrNumber(lead),
    stage: stageName(desk.setup.policies, lead.stage),
    at: iso(lead.lastActivityAt),
    open: !lead.closed,
  }));
}

/** The leads of records, each as it goes on now. */
export function leadsOf(desk: Desk, leadIds: readonly string[]): Lead[] {
  const ids = [...new Set(leadIds.map((id) => desk.looker.survivor(id)))];
  return ids.flatMap((id) => desk.looker.lead(id) ?? []);
}

function whole(desk: Desk, rec: Company | Contact, deals: readonly Deal[], also: readonly Rec[]) {
  const { setup } = desk;
  const leads = leadsOf(desk, [...rec.leadIds, ...deals.flatMap((d) => d.leadIds)]);
  const people = [...deals.map((d) => d.ownerId), ...leads.map((l) => l.ownerId)];
  const steps = [
    ...leads.flatMap((l) =>
      l.nextStep && !l.closed
        ? [{ what: l.nextStep.note, at: l.nextStep.dueAt, href: `/?lead=${l.id}` }]
        : [],
    ),
    ...deals.flatMap((d) => [
      ...(d.nextStep ? [{ what: d.nextStep.note, at: d.nextStep.dueAt, href: `/board?deal=${d.id}` }] : []),
      ...d.tasks.map((t) => ({ what: t.note, at: t.dueAt, href: `/board?deal=${d.id}` })),
    ]),
  ];
  return {
    leadIds: [...rec.leadIds],
    joinedTo: rec.joinedTo,
    joined: book(desk)
      .joinedTo(rec.id)
      .map(({ id, name }) => ({ id, name })),
    likely: likelyOf(desk, rec),
    leads: leadRefs(desk, leads),
    dealList: deals.map((d) => ({
      id: d.id,
      name: d.name,
      stage: stageName(setup.policies, d.stage),
      value: fromMinor(d.value, d.currency),
      currency: d.currency,
      closed: d.closed?.reason ?? null,
      owner: d.ownerId && nameOf(setup, d.ownerId),
      expectedOn: d.expectedOn,
    })),
    people: [...new Set(people)].flatMap((id) => (id ? [nameOf(setup, id)] : [])),
    steps: steps.sort((a, b) => a.at - b.at).map((s) => ({ ...s, at: iso(s.at) })),
    thread: threadOf(desk, [rec, ...deals, ...also], leads),
  };
}

const about = (rec: Company | Contact) =>
  (rec.kind === "company"
    ? [rec.domain, rec.phone && readablePhone(rec.phone), rec.postalCode]
    : [rec.role, rec.emails[0], rec.phones[0] && readablePhone(rec.phones[0])]
  )
    .filter(Boolean)
    .join(" · ");

/** Others in the book that may be the same, with the reasons; those somebody said are others are left out. */
function likelyOf(desk: Desk, rec: Company | Contact) {
  const keys = rec.kind === "company" ? companyKeys(rec) : contactKeys(rec);
  return book(desk)
    .sharing(keys)
    .flatMap((id) => {
      const other = book(desk).record(id);
      if (!other || other.id === rec.id || other.gone || other.joinedTo || rec.notSame.includes(id))
        return [];
      const match =
        isCompany(rec) && isCompany(other)
          ? companyLikeness(rec, other)
          : isContact(rec) && isContact(other)
            ? contactLikeness(rec, other)
            : null;
      if (!match || match.points < BOOK_WEIGHTS.likely || (!isCompany(other) && !isContact(other))) return [];
      return [{ ...match, reasons: [...match.reasons], name: other.name, about: about(other) }];
    })
    .sort((a, b) => b.points - a.points)
    .slice(0, 5);
}

export function toCompany(desk: Desk, company: Company): wire.Company {
  const contacts = contactsOf(desk, company);
  return {
    ...toCompanyRow(desk, company),
    ...whole(desk, company, dealsOf(desk, company), contacts),
    phoneReadable: company.phone && readablePhone(company.phone),
    contactList: contacts.map(({ id, name, role }) => ({ id, name, role })),
  };
}

export function toContact(desk: Desk, contact: Contact): wire.Contact {
  return {
    ...toContactRow(desk, contact),
    ...whole(desk, contact, dealsOf(desk, contact), []),
    phonesReadable: contact.phones.map(readablePhone),
  };
}

/** What a lead may become: who is in the book already, what it says itself, and what goes along. */
export function toHandOver(desk: Desk, lead: Lead): wire.HandOverChoice {
  const { setup, clock } = desk;
  const { policies } = setup;
  const now = clock.now();
  const { currency } = policies.company;
  const found = candidates(desk.look(lead.id), lead);
  const product = policies.products.find((p) => p.key === lead.facts.product);
  const over = stagesOf(policies, "lead").find((s) => s.key === STAGE.over);
  const { zone } = policies.desk;
  const first = firstDealStage(setup);
  return {
    companies: found.companies.map(({ record, ...m }) => ({
      ...m,
      reasons: [...m.reasons],
      name: record.name,
      about: about(record),
    })),
    contacts: found.contacts.map(({ record, ...m }) => ({
      ...m,
      reasons: [...m.reasons],
      name: record.name,
      about: about(record),
    })),
    said: {
      company: lead.company,
      domain: companyOf(lead).domain,
      contact: nameOrNumber(lead),
      deal: [product?.name, lead.company ?? nameOrNumber(lead)].filter(Boolean).join(", "),
      value: fromMinor(nearestMinor(lead.facts.value ?? 0, currency), currency),
      currency,
    },
    stages: [first, ...stagesOf(policies, "deal").filter((s) => s.kind === "open" && s !== first)].map(
      ({ key, name }) => ({ key, name }),
    ),
    comesAlong: [
      ...(lead.nextStep
        ? [`Next step: ${lead.nextStep.note}, ${dateTime(lead.nextStep.dueAt, zone, now)}`]
        : []),
      ...lead.tasks.map((t) => `Task: ${t.note}, ${dateTime(t.dueAt, zone, now)}`),
      ...(lead.ownerId ? [`Owner: ${nameOf(setup, lead.ownerId)}`] : []),
      ...(lead.estimates.length > 0 ? [`Estimates: ${lead.estimates.map((e) => e.number).join(", ")}`] : []),
      "The whole conversation, with notes and files",
    ],
    cadences: openRuns(lead, setup).map((r) => r.name),
    missing: over ? missingFor(setup, lead, factsOf(lead, setup, now), over).map((m) => ({ ...m })) : [],
    over: lead.closed !== null,
  };
}

export const productName = (desk: Desk, key: string) => valueNames.product(desk.setup, key);
