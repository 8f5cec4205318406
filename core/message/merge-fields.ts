import { firstName } from "../contact/name.ts";
import { readablePhone } from "../contact/readable-phone.ts";
import type { Lead } from "../lead/lead.ts";
import type { Person } from "../policy/people.ts";
import type { Setup } from "../policy/setup.ts";
import { nameOf, personOf } from "../policy/setup.ts";
import { BOOKING } from "./outgoing.ts";
import { unlinked, unlinkedOrNull } from "./outside-words.ts";

/** A field that templates may use. */
export interface MergeField {
  /** How it is written between the braces. */
  readonly path: string;
  readonly name: string;
  readonly type: "text" | "number" | "yes-no" | "date" | "link";
  /** Whether it may be empty, so that a fallback is wise. */
  readonly maybeEmpty: boolean;
}

/** The catalogue of what a template may say: it feeds the menu and the check alike. */
const FIELDS: readonly MergeField[] = [
  { path: "lead.first_name", name: "First name", type: "text", maybeEmpty: true },
  { path: "lead.name", name: "Whole name", type: "text", maybeEmpty: true },
  { path: "lead.company", name: "Company", type: "text", maybeEmpty: true },
  { path: "lead.message", name: "What they wrote", type: "text", maybeEmpty: true },
  { path: "lead.postal_code", name: "Postal code", type: "text", maybeEmpty: true },
  { path: "lead.territory", name: "Territory", type: "text", maybeEmpty: true },
  { path: "lead.phone", name: "Phone number", type: "text", maybeEmpty: true },
  { path: "lead.email", name: "Mail address", type: "text", maybeEmpty: true },
  { path: "product", name: "Product they asked about", type: "text", maybeEmpty: true },
  { path: "source", name: "Source", type: "text", maybeEmpty: true },
  { path: "owner.name", name: "Owner’s name", type: "text", maybeEmpty: true },
  { path: "owner.first_name", name: "Owner’s first name", type: "text", maybeEmpty: true },
  { path: "owner.phone", name: "Owner’s phone", type: "text", maybeEmpty: true },
  { path: "booking.link", name: "Link to book a call", type: "link", maybeEmpty: false },
  { path: "company.name", name: "Our name", type: "text", maybeEmpty: false },
  { path: "company.email", name: "Our mail address", type: "text", maybeEmpty: false },
  { path: "company.phone", name: "Our number for texts", type: "text", maybeEmpty: false },
];

/** Every field there is for this company, its own ones included. */
export function mergeFields({ policies }: Setup): readonly MergeField[] {
  const own = policies.fields.map((f) => ({
    path: `lead.own.${f.key}`,
    name: f.name,
    type:
      f.type === "number"
        ? ("number" as const)
        : f.type === "yes-no"
          ? ("yes-no" as const)
          : ("text" as const),
    maybeEmpty: true,
  }));
  return [...FIELDS, ...own];
}

/** Whether a path of a template names a field, or a whole such as `owner` that may be asked for being there. */
export function knownPath(fields: readonly MergeField[], segments: readonly string[]): boolean {
  const path = segments.join(".");
  return fields.some((f) => f.path === path || (f.path.startsWith(`${path}.`) && path !== "lead"));
}

/** The fields' values for a lead. */
export function mergeValues(
  setup: Setup,
  lead: Lead,
  owner: Person | undefined = personOf(setup, lead.ownerId),
): object {
  const { company, products, territories } = setup.policies;
  const product = products.find((p) => p.key === lead.facts.product);
  return {
    lead: {
      // Words from outside: no link in them is carried on by us.
      name: unlinkedOrNull(lead.name),
      first_name: unlinkedOrNull(firstName(lead.name)),
      company: unlinkedOrNull(lead.company),
      message: unlinkedOrNull(lead.facts.message),
      postal_code: unlinkedOrNull(lead.facts.postalCode),
      territory: territories.find((t) => t.key === lead.facts.territory)?.name ?? null,
      phone: lead.phones[0] ? readablePhone(lead.phones[0]) : null,
      email: lead.emails[0] ?? null,
      own: Object.fromEntries(
        Object.entries(lead.facts.own).map(([key, value]) => [
          key,
          typeof value === "string" ? unlinked(value) : value,
        ]),
      ),
    },
    product: product?.name.toLowerCase() ?? null,
    source: setup.sources.find((s) => s.id === lead.sourceId)?.name ?? null,
    owner: owner
      ? {
          name: nameOf(setup, owner.id),
          first_name: firstName(owner.name),
          phone: readablePhone(owner.phone),
        }
      : null,
    booking: { link: BOOKING },
    company: { name: company.name, email: company.email, phone: readablePhone(company.textLine) },
  };
}
