import { toEmail } from "../contact/email.ts";
import { toE164 } from "../contact/phone.ts";
import { findTerritory } from "../intake/territory.ts";
import { findProduct } from "../intake/understand.ts";
import type { LearnedFacts } from "../lead/inquiry.ts";
import type { Lead, Related } from "../lead/lead.ts";
import { union } from "../lead/together.ts";
import type { PhoneKind } from "../policy/mapping.ts";
import { type OwnValue, readOwnValue } from "../policy/own-fields.ts";
import type { Refused } from "../refusal.ts";
import type { ContactWay } from "../vocabulary.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { noSuchLead } from "./refusals.ts";

/** Facts as somebody writes them; what is left out stays, an empty text forgets. */
export interface Written {
  readonly name?: string | undefined;
  readonly company?: string | undefined;
  readonly emails?: readonly string[] | undefined;
  readonly phones?: readonly { readonly number: string; readonly kind?: PhoneKind | undefined }[] | undefined;
  readonly product?: string | undefined;
  readonly message?: string | undefined;
  readonly postalCode?: string | undefined;
  readonly address?: string | undefined;
  readonly language?: string | undefined;
  readonly preferred?: ContactWay | null | undefined;
  readonly forbidden?: readonly ContactWay[] | undefined;
  readonly detail?: string | undefined;
  readonly tags?: readonly string[] | undefined;
  readonly own?: Readonly<Record<string, string>> | undefined;
  readonly related?: readonly Related[] | undefined;
  /** Those of what could not be read that are still worth keeping. */
  readonly unread?: readonly string[] | undefined;
  /** Added to those known. */
  readonly moreEmails?: readonly string[] | undefined;
  readonly morePhones?: Written["phones"];
  /** What was answered to questions of forms, by the name each has there; an empty text forgets. */
  readonly answers?: Readonly<Record<string, string>> | undefined;
}

type Errors = { readonly path: string; readonly message: string }[];

/** Somebody of ours fills in or mends what is known. All of it is taken or nothing; each error names its field. */
export function learn(world: World, written: Written, by: string): Decided {
  const { lead } = world;
  if (!lead) return noSuchLead();
  const draft = new Draft(world, { kind: "person", id: by });
  return learnInto(draft, written) ?? draft.done();
}

/** Keep what is written with the draft's lead, as part of a larger act; or say what of it can't be read. */
export function learnInto(draft: Draft, written: Written): Refused | null {
  const errors: Errors = [];
  const facts = readWritten(draft.world, draft.lead, written, errors);
  if (errors.length > 0) {
    const detail = errors.map((e) => e.message).join(" ");
    return {
      ok: false,
      problem: { code: "facts-cant-be-kept", status: 422, title: "Something can't be read", detail, errors },
    };
  }
  if (Object.keys(facts).length > 0) draft.add("learned", { facts });
  if (written.related) draft.add("related", { related: written.related });
  return null;
}

function readWritten(world: World, lead: Lead, written: Written, errors: Errors): LearnedFacts {
  const { policies } = world.setup;
  const some = (text: string) => text.trim() || null;
  const top: { -readonly [K in keyof LearnedFacts]: LearnedFacts[K] } = {};
  const facts: { -readonly [K in keyof Lead["facts"]]?: Lead["facts"][K] } = {};
  if (written.name !== undefined) top.name = some(written.name);
  if (written.company !== undefined) top.company = some(written.company);
  if (written.tags) top.tags = [...new Set(written.tags.map((t) => t.trim().toLowerCase()).filter(Boolean))];
  if (written.emails) top.emails = readEmails(written.emails, errors);
  if (written.moreEmails)
    top.emails = union(top.emails ?? lead.emails, readEmails(written.moreEmails, errors));
  if (written.phones) {
    const { country } = policies.company;
    top.phones = readPhones(written.phones, country, errors);
    facts.kinds = Object.fromEntries(
      written.phones.flatMap(({ number, kind }) => {
        const phone = kind && toE164(number, country);
        return phone ? [[phone, kind]] : [];
      }),
    );
  }
  if (written.morePhones)
    top.phones = union(
      top.phones ?? lead.phones,
      readPhones(written.morePhones, policies.company.country, errors),
    );
  if (written.product !== undefined) {
    const product = findProduct(policies, written.product);
    if (written.product && !product)
      errors.push({ path: "product", message: `“${written.product}” is none of the company's products.` });
    facts.product = product?.key ?? null;
    facts.value = product?.value ?? null;
  }
  if (written.message !== undefined) facts.message = some(written.message);
  if (written.address !== undefined) facts.address = some(written.address);
  if (written.detail !== undefined) facts.detail = some(written.detail);
  if (written.language) facts.language = written.language.slice(0, 2).toLowerCase();
  if (written.preferred !== undefined) facts.preferred = written.preferred;
  if (written.forbidden) facts.forbidden = written.forbidden;
  if (written.unread) facts.unread = lead.facts.unread.filter((u) => written.unread!.includes(u));
  if (written.answers) facts.answers = { ...lead.facts.answers, ...written.answers };
  if (written.postalCode !== undefined || written.phones || written.morePhones) {
    const postalCode =
      written.postalCode === undefined
        ? lead.facts.postalCode
        : some(written.postalCode.toUpperCase().replace(/\s+/g, ""));
    const territory = findTerritory(policies.territories, postalCode, top.phones ?? lead.phones);
    Object.assign(facts, { postalCode, territory: territory?.key ?? null, zone: territory?.zone ?? null });
  }
  if (written.own) facts.own = { ...lead.facts.own, ...readOwn(world, lead, written.own, errors) };
  return { ...top, ...(Object.keys(facts).length > 0 && { facts }) };
}

function readEmails(written: readonly string[], errors: Errors): string[] {
  return written.flatMap((text, i) => {
    const email = toEmail(text);
    if (!email && text.trim())
      errors.push({ path: `emails.${i}`, message: `“${text}” is not a mail address.` });
    return email ?? [];
  });
}

function readPhones(written: NonNullable<Written["phones"]>, country: string, errors: Errors): string[] {
  return written.flatMap(({ number }, i) => {
    const phone = toE164(number, country);
    if (!phone && number.trim())
      errors.push({ path: `phones.${i}`, message: `“${number}” is not a phone number that can be called.` });
    return phone ?? [];
  });
}

function readOwn(
  world: World,
  lead: Lead,
  written: Readonly<Record<string, string>>,
  errors: Errors,
): Record<string, OwnValue> {
  const own: Record<string, OwnValue> = {};
  for (const [key, text] of Object.entries(written)) {
    const field = world.setup.policies.fields.find((f) => f.key === key);
    if (!field) errors.push({ path: `own.${key}`, message: `There is no field “${key}”.` });
    else if (!text.trim()) {
      if (lead.facts.own[key] !== undefined) own[key] = "";
    } else {
      const read = readOwnValue(field, text);
      if (read.ok) own[key] = read.value;
      else errors.push({ path: `own.${key}`, message: `${field.name}: ${read.reason}` });
    }
  }
  return own;
}
