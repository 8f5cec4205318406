import { readablePhone } from "../contact/readable-phone.ts";
import type { Lead } from "../lead/lead.ts";
import { plain, wordsOf } from "./plain.ts";

/** What a piece of a lead is. */
export type About = "name" | "company" | "number" | "address" | "field" | "note" | "said";

/** Something of a lead that can be found. */
export interface Piece {
  readonly about: About;
  readonly text: string;
  /** When it was said or written (epoch ms); null for what simply is so. */
  readonly at: number | null;
}

const isText = (value: unknown): value is string => typeof value === "string" && value.length > 1;

/** What is known of a lead, to be found by: as people read it. */
export function piecesOf(lead: Lead): readonly Piece[] {
  const { own, address, postalCode } = lead.facts;
  const piece = (about: About, text: string): Piece => ({ about, text, at: null });
  return [
    ...(lead.name ? [piece("name", lead.name)] : []),
    ...(lead.company ? [piece("company", lead.company)] : []),
    ...lead.phones.map((phone) => piece("number", readablePhone(phone))),
    ...lead.emails.map((email) => piece("address", email)),
    ...Object.values(own)
      .flat()
      .filter(isText)
      .map((text) => piece("field", text)),
    ...(address ? [piece("field", address)] : []),
    ...(postalCode ? [piece("field", postalCode)] : []),
    ...lead.tags.map((tag) => piece("field", tag)),
  ];
}

/** All of that as one plain text, numbers as their digits: what the index of leads holds. */
export const ownText = (lead: Lead): string =>
  piecesOf(lead)
    .filter(({ about }) => about !== "number")
    .map(({ text }) => plain(text))
    .concat(lead.phones.map((phone) => phone.replace(/\D/g, "")))
    .join("\n");

/** The words of a lead that are forgiven a typing error: of its name and company, and what it was named in its fields. */
export const namedBy = (lead: Lead): readonly string[] => [
  ...new Set(
    piecesOf(lead)
      .filter(({ about }) => about === "name" || about === "company" || about === "field")
      .flatMap(({ text }) => wordsOf(plain(text))),
  ),
];
