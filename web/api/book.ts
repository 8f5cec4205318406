import {
  type Company,
  type Contact,
  type Deal,
  isCompany,
  isContact,
  isDeal,
  type Rec,
} from "../../core/book/records.ts";
import type { BookDecided } from "../../core/desk/deals.ts";
import { fromMinor } from "../../core/money/money.ts";
import { nameOf } from "../../core/policy/setup.ts";
import { stageName } from "../../core/policy/stages.ts";
import { type Refused, refuse } from "../../core/refusal.ts";
import { localDate } from "../../core/time/words.ts";
import type { Desk } from "../../server/desk.ts";
import { survivorOf } from "../wire/shape-customers.ts";
import { dealsFor } from "../wire/shape-deals.ts";
import { refusal } from "./endpoint.ts";
import type { Caller } from "./identify.ts";

type Found<T extends Rec> = { readonly ok: true; readonly record: T } | Refused;

const found = <T extends Rec>(rec: Rec | null, is: (rec: Rec | null) => rec is T, what: string): Found<T> =>
  is(rec) && !rec.gone
    ? { ok: true, record: rec }
    : refuse(`no-such-${what}`, 404, `No such ${what}`, `There is no ${what} with that id.`);

/** The company of a path, or the one it was joined to. */
export const companyOf = (desk: Desk, id: string | undefined): Found<Company> =>
  found(survivorOf(desk, id ?? ""), isCompany, "company");
export const contactOf = (desk: Desk, id: string | undefined): Found<Contact> =>
  found(survivorOf(desk, id ?? ""), isContact, "contact");
export const dealOf = (desk: Desk, id: string | undefined): Found<Deal> =>
  found(desk.looker.book.record(id ?? ""), isDeal, "deal");

/** Whether a record is the business of whoever asks. */
export function isCustomerOf(desk: Desk, { me, rights }: Pick<Caller, "me" | "rights">, id: string): boolean {
  const rec = desk.looker.book.record(id);
  return rec !== null && !rec.gone && (rights.has("leads.all") || desk.customers.isTheirs(rec, me.id));
}

/** The answer to something done to a record: its id and the act's, or why not. */
export function bookActed(
  id: string | undefined,
  decided: BookDecided,
): Response | { id: string; actId: string } {
  return decided.ok ? { id: id ?? "", actId: decided.plan.actId } : refusal(decided.problem);
}

export const DEAL_COLUMNS = [
  "id",
  "name",
  "company",
  "contact",
  "email",
  "phone",
  "stage",
  "value",
  "currency",
  "expected on",
  "owner",
  "source",
  "since",
  "next step",
  "ended",
  "reason",
  "lead",
] as const;

/** Deals as rows of a table, open ones first. */
export function dealRows(desk: Desk, me: string, all: boolean): string[][] {
  const { setup } = desk;
  const { open, closedMine } = dealsFor(desk, me, all);
  const { zone } = setup.policies.desk;
  return [...open, ...closedMine].map((deal) => {
    const contact = survivorOf(desk, deal.contactId);
    return [
      deal.id,
      deal.name,
      survivorOf(desk, deal.companyId)?.name ?? "",
      contact?.name ?? "",
      isContact(contact) ? (contact.emails[0] ?? "") : "",
      isContact(contact) ? (contact.phones[0] ?? "") : "",
      stageName(setup.policies, deal.stage),
      String(fromMinor(deal.value, deal.currency)),
      deal.currency,
      deal.expectedOn ?? "",
      deal.ownerId ? nameOf(setup, deal.ownerId) : "",
      setup.sources.find((s) => s.id === deal.sourceId)?.name ?? "",
      localDate(deal.since, zone),
      deal.nextStep ? `${deal.nextStep.note} (${localDate(deal.nextStep.dueAt, zone)})` : "",
      deal.closed ? deal.closed.kind : "",
      deal.closed?.reason ?? "",
      deal.leadIds[0] ?? "",
    ];
  });
}
