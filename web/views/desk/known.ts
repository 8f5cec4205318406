import type { QueueRow, Sheet } from "../../wire/schemas.ts";

/** What is known about somebody, as it is written into a form. */
export interface KnownFacts {
  readonly name: string;
  readonly company: string;
  readonly phones: readonly { readonly number: string; readonly kind: string }[];
  readonly emails: readonly string[];
  readonly product: string;
  readonly message: string;
  readonly postalCode: string;
  readonly address: string;
  readonly detail: string;
  readonly preferred: string;
  readonly forbidden: readonly WayToThem[];
  readonly tags: readonly string[];
  readonly own: Readonly<Record<string, string>>;
  readonly related: readonly {
    readonly name: string;
    readonly relation: string;
    readonly leadId: string | null;
  }[];
  /** Numbers and addresses that could not be read; only mended, never written. */
  readonly unread: readonly string[];
}
export type WayToThem = "call" | "text" | "email";

export const NOTHING: KnownFacts = {
  name: "",
  company: "",
  phones: [{ number: "", kind: "" }],
  emails: [""],
  product: "",
  message: "",
  postalCode: "",
  address: "",
  detail: "",
  preferred: "",
  forbidden: [],
  tags: [],
  own: {},
  related: [],
  unread: [],
};

/** What a lead's sheet knows, ready to be mended. */
export function knownOf({ lead, own }: Pick<Sheet, "lead" | "own">): KnownFacts {
  const { facts } = lead;
  return {
    name: lead.name ?? "",
    company: lead.company ?? "",
    phones: [
      ...lead.phones.map((number) => ({ number, kind: facts.kinds[number] ?? "" })),
      ...(lead.phones.length ? [] : NOTHING.phones),
    ],
    emails: lead.emails.length ? lead.emails : [""],
    product: facts.product ?? "",
    message: facts.message ?? "",
    postalCode: facts.postalCode ?? "",
    address: facts.address ?? "",
    detail: facts.detail ?? "",
    preferred: facts.preferred ?? "",
    forbidden: facts.forbidden,
    tags: lead.tags,
    own: Object.fromEntries(own.map((f) => [f.key, f.written])),
    related: lead.related,
    unread: facts.unread,
  };
}

/** What the server is told: lists without their empty lines, a way only when one is chosen. */
export function written(known: KnownFacts): Record<string, unknown> {
  return {
    ...known,
    phones: known.phones
      .filter((p) => p.number.trim())
      .map(({ number, kind }) => ({ number, ...(kind && { kind }) })),
    emails: known.emails.filter((e) => e.trim()),
    preferred: known.preferred || null,
    related: known.related.filter((r) => r.name.trim()),
  };
}

/** Only what differs from before, so that nothing is written over that somebody else changed meanwhile. */
export function changes(before: KnownFacts, after: KnownFacts): Record<string, unknown> {
  const [old, now] = [written(before), written(after)];
  const out = Object.fromEntries(
    Object.entries(now).filter(([k, v]) => JSON.stringify(v) !== JSON.stringify(old[k])),
  );
  if (out.own) {
    const own = Object.entries(after.own).filter(([k, v]) => v !== (before.own[k] ?? ""));
    out.own = Object.fromEntries(own);
  }
  return out;
}

/** Named answers of an entry by hand, for the server to understand and to look for who it may be. */
export function asFields(known: KnownFacts): Record<string, string> {
  const fields: [string, string][] = [
    ["name", known.name],
    ["company", known.company],
    ["product", known.product],
    ["postal_code", known.postalCode],
    ...known.phones.map((p, i): [string, string] => [i === 0 ? "phone" : `phone ${i + 1}`, p.number]),
    ...known.emails.map((e, i): [string, string] => [i === 0 ? "email" : `email ${i + 1}`, e]),
  ];
  return Object.fromEntries(fields.filter(([, v]) => v.trim()));
}

/** Ways somebody must not be reached, in words; null when there is none. */
export function forbiddenWords(lead: QueueRow): string | null {
  const said = { call: "call", text: "text", email: "write an email to" };
  const ways = lead.facts.forbidden.map((w) => said[w]);
  return ways.length > 0 ? `Don’t ${ways.join(" or ")} them.` : null;
}
