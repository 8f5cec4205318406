import { foldRecords, restorableRecord } from "../book/events.ts";
import { companyDomain } from "../book/match.ts";
import { type Company, type Contact, isCompany, isContact, isDeal, type Rec } from "../book/records.ts";
import { toEmail } from "../contact/email.ts";
import { toE164 } from "../contact/phone.ts";
import { personOf } from "../policy/setup.ts";
import { type Problem, type Refused, refuse } from "../refusal.ts";
import { BookAct, type BookDecided } from "./deals.ts";
import type { World } from "./plan.ts";
import { nobodyByThatId } from "./refusals.ts";

/** What somebody writes of a company or a contact; what is left out stays, an empty text forgets. */
export interface CustomerChange {
  readonly name?: string | undefined;
  readonly domain?: string | undefined;
  readonly phone?: string | undefined;
  readonly address?: string | undefined;
  readonly postalCode?: string | undefined;
  readonly role?: string | undefined;
  readonly language?: string | undefined;
  readonly companyId?: string | null | undefined;
  readonly emails?: readonly string[] | undefined;
  readonly phones?: readonly string[] | undefined;
  readonly note?: string | undefined;
}

const notInTheBook = (): Refused =>
  refuse("not-in-the-book", 404, "Not in the book", "There is no company or contact with that id.");

/** Whether two records are one kind of customer: a company and a contact are never one. */
const alone = (rec: Rec | null): rec is Company | Contact => (isCompany(rec) || isContact(rec)) && !rec.gone;

/** Change what is known of a company or a contact. All of it is taken or nothing; each error names its field. */
export function changeCustomer(world: World, by: string, id: string, change: CustomerChange): BookDecided {
  if (!personOf(world.setup, by)) return nobodyByThatId();
  const act = new BookAct({ ...world, lead: null }, { kind: "person", id: by });
  const rec = act.book.record(id);
  if (!alone(rec)) return notInTheBook();
  const errors: NonNullable<Problem["errors"]>[number][] = [];
  const written = isCompany(rec) ? ofCompany(world, change, errors) : ofContact(act, world, change, errors);
  if (change.name !== undefined && !change.name.trim())
    errors.push({ path: "name", message: "Give it a name to find it by." });
  if (errors.length > 0)
    return {
      ok: false,
      problem: {
        code: "facts-cant-be-kept",
        status: 422,
        title: "Something can't be read",
        detail: errors.map((e) => e.message).join(" "),
        errors,
      },
    };
  const known = rec as unknown as Record<string, unknown>;
  const fields = Object.fromEntries(
    Object.entries({ ...written, ...(change.name !== undefined && { name: change.name.trim() }) }).filter(
      ([key, value]) => JSON.stringify(known[key]) !== JSON.stringify(value),
    ),
  );
  if (Object.keys(fields).length > 0) act.book.add(id, "changed", { fields });
  if (change.note?.trim()) act.book.add(id, "noted", { text: change.note.trim() });
  return act.done();
}

const some = (text: string) => text.trim() || null;

function ofCompany(
  { setup }: World,
  { domain, phone, address, postalCode }: CustomerChange,
  errors: { path: string; message: string }[],
): Record<string, unknown> {
  const fields: Record<string, unknown> = {};
  if (domain !== undefined) {
    const bare = domain
      .trim()
      .toLowerCase()
      .replace(/^https?:\/\//, "")
      .replace(/^www\./, "");
    const host = bare.split("/", 1)[0] ?? "";
    if (host && !/^[a-z0-9-]+(\.[a-z0-9-]+)+$/.test(host))
      errors.push({ path: "domain", message: `“${domain}” is no domain. Write it as example.com.` });
    fields.domain = host ? (companyDomain([`x@${host}`]) ?? null) : null;
  }
  if (phone !== undefined) {
    const number = phone.trim() ? toE164(phone, setup.policies.company.country) : null;
    if (phone.trim() && !number)
      errors.push({ path: "phone", message: `“${phone}” is not a phone number that can be called.` });
    fields.phone = number;
  }
  if (address !== undefined) fields.address = some(address);
  if (postalCode !== undefined) fields.postalCode = some(postalCode.toUpperCase().replace(/\s+/g, ""));
  return fields;
}

function ofContact(
  act: BookAct,
  { setup }: World,
  { emails, phones, role, address, language, companyId }: CustomerChange,
  errors: { path: string; message: string }[],
): Record<string, unknown> {
  const fields: Record<string, unknown> = {};
  const each = (
    list: readonly string[],
    path: string,
    read: (text: string) => string | null,
    what: string,
  ): string[] =>
    list.flatMap((text, i) => {
      const value = text.trim() ? read(text) : null;
      if (text.trim() && !value) errors.push({ path: `${path}.${i}`, message: `“${text}” is not ${what}.` });
      return value ?? [];
    });
  if (emails) fields.emails = [...new Set(each(emails, "emails", toEmail, "a mail address"))];
  if (phones)
    fields.phones = [
      ...new Set(
        each(
          phones,
          "phones",
          (p) => toE164(p, setup.policies.company.country),
          "a number that can be called",
        ),
      ),
    ];
  if (role !== undefined) fields.role = some(role);
  if (address !== undefined) fields.address = some(address);
  if (language !== undefined) fields.language = some(language.slice(0, 2).toLowerCase());
  if (companyId !== undefined) {
    const company = act.book.survivor(companyId);
    if (companyId !== null && !isCompany(company))
      errors.push({ path: "companyId", message: "There is no such company in the book." });
    fields.companyId = company?.id ?? null;
  }
  return fields;
}

/** Join another record of the same kind to this one: what was theirs is this one's from now on. */
export function joinCustomers(world: World, by: string, id: string, otherId: string): BookDecided {
  if (!personOf(world.setup, by)) return nobodyByThatId();
  const act = new BookAct({ ...world, lead: null }, { kind: "person", id: by });
  const [rec, other] = [act.book.record(id), act.book.record(otherId)];
  if (!alone(rec)) return notInTheBook();
  if (!alone(other) || other.kind !== rec.kind || other.id === rec.id || other.joinedTo || rec.joinedTo)
    return refuse(
      "cant-be-joined",
      409,
      "Can't be joined",
      "Join two companies, or two contacts, that are not joined to others.",
      "with",
    );
  act.book.add(id, "joined", { otherId, name: other.name, other });
  act.book.add(otherId, "joined-to", { to: id, name: rec.name });
  return act.done();
}

/** Take apart again what was joined: this one knows again what it would know without the other. */
export function partCustomers(world: World, by: string, id: string, otherId: string): BookDecided {
  if (!personOf(world.setup, by)) return nobodyByThatId();
  const act = new BookAct({ ...world, lead: null }, { kind: "person", id: by });
  const [rec, other] = [act.book.record(id), act.book.record(otherId)];
  if (!alone(rec) || !alone(other)) return notInTheBook();
  if (other.joinedTo !== rec.id)
    return refuse("not-joined", 409, "Not joined", "These two are not joined.", "from");
  // Told once more without the joining; what has happened since stays.
  const events = world.book.events(id).filter((e) => !(e.kind === "joined" && e.data.otherId === otherId));
  const without = foldRecords(events.map((event, i) => ({ ...event, seq: i + 1 })));
  if (without)
    act.book.add(id, "parted", { otherId, name: other.name, fields: knownOf(restorableRecord(without)) });
  act.book.add(otherId, "parted-from", { from: id, name: rec.name });
  return act.done();
}

const knownOf = ({
  joinedTo: _to,
  notSame: _not,
  gone: _gone,
  ...fields
}: Readonly<Record<string, unknown>>) => fields;

/** Begin a deal with somebody in the book: a customer who wants something more. */
export function newDeal(
  world: World,
  by: string,
  { contactId, companyId, name }: { contactId?: string | null; companyId?: string | null; name: string },
  stage: string,
): BookDecided {
  if (!personOf(world.setup, by)) return nobodyByThatId();
  const act = new BookAct({ ...world, lead: null }, { kind: "person", id: by });
  const contact = act.book.survivor(contactId ?? null);
  const company = act.book.survivor(companyId ?? (isContact(contact) ? contact.companyId : null));
  if (!isContact(contact) && !isCompany(company)) return notInTheBook();
  if (!name.trim()) return refuse("it-needs-a-name", 422, "It needs a name", "Give the deal a name.", "name");
  const deal = act.book.make("deal", {
    name: name.trim(),
    leadIds: contact?.leadIds.slice(0, 1) ?? [],
    companyId: company?.id ?? null,
    contactId: contact?.id ?? null,
    ownerId: by,
    sourceId: null,
    stage,
    currency: world.setup.policies.company.currency,
  });
  return isDeal(deal) ? act.done() : notInTheBook();
}
