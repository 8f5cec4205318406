import {
  BOOK_WEIGHTS,
  companyDomain,
  companyKeys,
  companyLikeness,
  contactKeys,
  contactLikeness,
  type Match,
  type SaidCompany,
  type SaidContact,
} from "../book/match.ts";
import { type Company, type Contact, type Deal, isCompany, isContact } from "../book/records.ts";
import { cadenceName, openRuns } from "../cadence/run.ts";
import { nameOrNumber } from "../lead/called.ts";
import type { Lead } from "../lead/lead.ts";
import { nearestMinor, toMinor } from "../money/money.ts";
import { personOf, type Setup } from "../policy/setup.ts";
import { named, type Stage, stagesOf } from "../policy/stages.ts";
import { type Refused, refuse } from "../refusal.ts";
import { dateTime } from "../time/words.ts";
import { STAGE } from "../vocabulary.ts";
import { readDay } from "./deals.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { leadIsClosed, nobodyByThatId, noSuchLead } from "./refusals.ts";
import { lacks } from "./stage.ts";

/** Who is chosen from the book, or made new; null for none. */
export interface Chosen {
  readonly id?: string | undefined;
  readonly name?: string | undefined;
  readonly domain?: string | null | undefined;
  readonly role?: string | null | undefined;
}

export interface HandOver {
  readonly company: Chosen | null;
  readonly contact: Chosen | null;
  readonly deal: {
    readonly name?: string | undefined;
    /** In the currency's whole unit; what the lead is worth where nothing is said. */
    readonly value?: number | string | undefined;
    readonly expectedOn?: string | null | undefined;
    readonly stage?: string | undefined;
  } | null;
  /** What becomes of cadences it is in: they stop, or the next touch of each becomes a task of the deal. */
  readonly cadences?: "stop" | "tasks" | undefined;
}

/** What a lead says of its company. */
export const companyOf = (lead: Lead): SaidCompany => ({
  name: lead.company,
  domain: companyDomain(lead.emails),
  phone: lead.company ? (lead.phones[0] ?? null) : null,
  postalCode: lead.facts.postalCode,
});

/** What a lead says of its contact. */
export const contactOf = ({ name, emails, phones }: Lead): SaidContact => ({ name, emails, phones });

export interface Candidates {
  readonly companies: readonly (Match & { readonly record: Company })[];
  readonly contacts: readonly (Match & { readonly record: Contact })[];
}

/** What of the book a lead may be, the likeliest first, each with its reasons. Nothing is ever chosen on its own. */
export function candidates(world: World, lead: Lead): Candidates {
  const said = { company: companyOf(lead), contact: contactOf(lead) };
  const draft = new Draft(world, { kind: "desk" });
  const found = (keys: readonly string[]) => {
    const records = world.book.sharing(keys).flatMap((id) => draft.book.survivor(id) ?? []);
    return [...new Map(records.map((r) => [r.id, r])).values()];
  };
  const likely = <T extends Match>(list: readonly T[]) =>
    list
      .filter((m) => m.points >= BOOK_WEIGHTS.likely)
      .sort((a, b) => b.points - a.points)
      .slice(0, 5);
  return {
    companies: likely(
      found(companyKeys(said.company))
        .filter(isCompany)
        .map((record) => ({ ...companyLikeness(said.company, record), record })),
    ),
    contacts: likely(
      found(contactKeys(said.contact))
        .filter(isContact)
        .map((record) => ({ ...contactLikeness(said.contact, record), record })),
    ),
  };
}

/**
 * A qualified lead becomes company, contact and deal by one act: each is chosen from the book, made new, or left out. Open
 * tasks, the next step and the owner go on with the deal; the lead stays, closed as handed over, and links both ways.
 */
export function handOver(world: World, by: string, choice: HandOver): Decided {
  const { lead, setup } = world;
  if (!lead) return noSuchLead();
  if (!personOf(setup, by)) return nobodyByThatId();
  if (lead.closed?.reason === STAGE.over && lead.handedOver)
    return refuse("handed-over-already", 409, "Handed over already", "This lead was handed over already.");
  if (lead.closed) return leadIsClosed();
  if (lead.test)
    return refuse("a-test", 409, "A test", "A test goes away by tomorrow: it can’t become a customer.");
  if (!choice.company && !choice.contact)
    return refuse(
      "nobody-to-hand-over-to",
      422,
      "Nobody to hand over to",
      "Choose or make a company or a contact at least.",
      "contact",
    );
  const draft = new Draft(world, { kind: "person", id: by });
  const over = named(stagesOf(setup.policies, "lead"), STAGE.over);
  if (over?.from && over.from.length > 0 && !over.from.includes(lead.stage))
    return refuse(
      "not-from-here",
      409,
      "Not from here",
      `A lead is handed over from ${over.from.map((k) => `“${named(setup.policies.stages, k)?.name ?? k}”`).join(" or ")}.`,
      "stage",
    );
  const missing = over && lacks(draft, over);
  if (missing) return missing;
  const from = nameOrNumber(lead);
  const company = companyRecord(draft, choice.company, from);
  if (company && "ok" in company) return company;
  const contact = contactRecord(draft, choice.contact, company, from);
  if (contact && "ok" in contact) return contact;
  const deal = dealRecord(draft, choice, company, contact, from);
  if (deal && "ok" in deal) return deal;
  if (!deal) noteOpenWork(draft, contact ?? company);
  draft.add("handed-over", {
    companyId: company?.id ?? null,
    contactId: contact?.id ?? null,
    dealId: deal?.id ?? null,
    names: { company: company?.name ?? null, contact: contact?.name ?? null, deal: deal?.name ?? null },
  });
  draft.tellHooks("lead.handed-over", deal?.id ?? null);
  return draft.done();
}

const noSuch = (what: "company" | "contact", path: string) =>
  refuse(`no-such-${what}`, 422, `No such ${what}`, `\`${path}\` names no ${what} in the book.`, path);

function companyRecord(draft: Draft, chosen: Chosen | null, from: string): Company | Refused | null {
  if (!chosen) return null;
  const { lead } = draft;
  const said = companyOf(lead);
  if (chosen.id) {
    const known = draft.book.survivor(chosen.id);
    if (!isCompany(known)) return noSuch("company", "company.id");
    const fields = {
      ...(!known.domain && said.domain && { domain: said.domain }),
      ...(!known.postalCode && said.postalCode && { postalCode: said.postalCode }),
    };
    return draft.book.add(known.id, "linked", { leadId: lead.id, name: lead.name, fields }) as Company;
  }
  const name = (chosen.name ?? lead.company ?? "").trim();
  if (!name)
    return refuse(
      "it-needs-a-name",
      422,
      "It needs a name",
      "Say what the company is called.",
      "company.name",
    );
  return draft.book.make(
    "company",
    {
      name,
      domain: chosen.domain?.trim().toLowerCase() || said.domain,
      phone: said.phone,
      address: lead.facts.address,
      postalCode: said.postalCode,
      leadIds: [lead.id],
    },
    from,
  ) as Company;
}

function contactRecord(
  draft: Draft,
  chosen: Chosen | null,
  company: Company | null,
  from: string,
): Contact | Refused | null {
  if (!chosen) return null;
  const { lead } = draft;
  const { emails, phones } = lead;
  if (chosen.id) {
    const known = draft.book.survivor(chosen.id);
    if (!isContact(known)) return noSuch("contact", "contact.id");
    const fields = {
      emails: [...new Set([...known.emails, ...emails])],
      phones: [...new Set([...known.phones, ...phones])],
      ...(!known.companyId && company && { companyId: company.id }),
    };
    return draft.book.add(known.id, "linked", { leadId: lead.id, name: lead.name, fields }) as Contact;
  }
  return draft.book.make(
    "contact",
    {
      name: (chosen.name ?? "").trim() || nameOrNumber(lead),
      role: chosen.role?.trim() || null,
      companyId: company?.id ?? null,
      emails,
      phones,
      address: lead.facts.address,
      language: lead.facts.language,
      customerSince: lead.customer?.since ?? null,
      leadIds: [lead.id],
    },
    from,
  ) as Contact;
}

/** Where deals begin: the first open stage they can stand in. */
export const firstDealStage = (setup: Setup): Stage =>
  stagesOf(setup.policies, "deal").find((s) => s.kind === "open" && s.of === "deal") ??
  stagesOf(setup.policies, "deal").find((s) => s.kind === "open")!;

function dealRecord(
  draft: Draft,
  { deal, cadences = "stop" }: HandOver,
  company: Company | null,
  contact: Contact | null,
  from: string,
): Deal | Refused | null {
  if (!deal) return null;
  const { lead, world } = draft;
  const { setup } = world;
  const { currency } = setup.policies.company;
  const product = setup.policies.products.find((p) => p.key === lead.facts.product);
  const value =
    deal.value === undefined ? nearestMinor(lead.facts.value ?? 0, currency) : toMinor(deal.value, currency);
  if (value === null || value < 0)
    return refuse(
      "not-a-sum",
      422,
      "Not a sum",
      `The value is a sum in ${currency}, such as 41000 or 41000.50.`,
      "deal.value",
    );
  const stage = deal.stage ? named(stagesOf(setup.policies, "deal"), deal.stage) : firstDealStage(setup);
  if (stage?.kind !== "open")
    return refuse(
      "no-such-stage",
      422,
      "No such stage",
      "Choose one of the open stages of deals.",
      "deal.stage",
    );
  const expectedOn = readDay(deal.expectedOn ?? null);
  if (expectedOn === undefined)
    return refuse("not-a-day", 422, "Not a day", "Write the expected date as 2026-03-04.", "deal.expectedOn");
  const tasks = [
    ...lead.tasks.map(({ id, note, dueAt, to }) => ({ id, note, dueAt, to })),
    ...(cadences === "tasks" ? touchesAsTasks(draft) : []),
  ];
  return draft.book.make(
    "deal",
    {
      name:
        deal.name?.trim() ||
        [product?.name, company?.name ?? contact?.name].filter(Boolean).join(", ") ||
        from,
      leadIds: [lead.id],
      companyId: company?.id ?? null,
      contactId: contact?.id ?? null,
      ownerId: lead.ownerId ?? draft.world.lead?.lastOwner?.personId ?? null,
      sourceId: lead.sourceId,
      stage: stage.key,
      value,
      currency,
      lines: product ? [{ product: product.key, quantity: 1, price: value }] : [],
      expectedOn,
      nextStep: lead.nextStep && { note: lead.nextStep.note, dueAt: lead.nextStep.dueAt },
      tasks,
    },
    from,
  ) as Deal;
}

/** What its cadences would have done next, for a person to do: a message as well, since nobody knows what fits now. */
function touchesAsTasks({ lead, world: { setup, now } }: Draft): Deal["tasks"] {
  return openRuns(lead, setup).flatMap((run) =>
    run.at === null || !lead.ownerId
      ? []
      : [
          {
            id: `task.${run.id}`,
            note: `Next of “${cadenceName(setup, run)}”: ${run.kind}`,
            dueAt: Math.max(run.at, now),
            to: [lead.ownerId],
          },
        ],
  );
}

/** Without a deal there is nobody whose work it would be: what was open is written down where it is found. */
function noteOpenWork(draft: Draft, record: Company | Contact | null): void {
  const { lead, world } = draft;
  const { zone } = world.setup.policies.desk;
  const open = [...(lead.nextStep ? [lead.nextStep] : []), ...lead.tasks].map(
    ({ note, dueAt }) => `${note} (${dateTime(dueAt, zone, world.now)})`,
  );
  if (record && open.length > 0)
    draft.book.add(record.id, "noted", { text: `Open when it was handed over: ${open.join("; ")}` });
}
