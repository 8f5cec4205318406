import { XMLParser } from "fast-xml-parser";
import ICAL from "ical.js";
import type { Fields } from "./fields.ts";

/** Readers of open lead documents. Each brings a document to named answers, or says why it can't. */

export type Read =
  | { readonly ok: true; readonly fields: Fields }
  | { readonly ok: false; readonly reason: string };

const fail = (reason: string): Read => ({ ok: false, reason });

/** The most one text of a document may hold; the original is kept whole anyway. */
const LONGEST = 20_000;

const xml = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: "@",
  // Entities of the document's own are never followed: they are how a document reads what it should not.
  processEntities: false,
  parseTagValue: false,
  parseAttributeValue: false,
  trimValues: true,
  isArray: (name) => ["prospect", "name", "phone", "email", "vehicle", "comments", "street"].includes(name),
});

/** Whether a text looks like an ADF lead document. */
export function looksLikeAdf(text: string): boolean {
  return /<adf[\s>]/i.test(text.slice(0, 2_000));
}

/** Whether a text looks like a contact card. */
export function looksLikeVcard(text: string): boolean {
  return /^\s*BEGIN:VCARD/i.test(text);
}

const child = (node: unknown, name: string): unknown =>
  typeof node === "object" && node !== null ? (node as Record<string, unknown>)[name] : undefined;
const list = (node: unknown): unknown[] => (Array.isArray(node) ? node : node === undefined ? [] : [node]);
const FIVE = { "&lt;": "<", "&gt;": ">", "&quot;": '"', "&apos;": "'", "&amp;": "&" } as const;
/** The five entities XML itself has, and numbered characters; nothing else is looked up. */
const plainText = (text: string) =>
  text
    .replace(/&#(x[0-9a-f]{1,6}|\d{1,7});/gi, (whole, code: string) => {
      const point = code[0] === "x" || code[0] === "X" ? Number.parseInt(code.slice(1), 16) : Number(code);
      return point > 0 && point <= 0x10ffff && !(point >= 0xd800 && point <= 0xdfff)
        ? String.fromCodePoint(point)
        : whole;
    })
    .replace(/&(lt|gt|quot|apos|amp);/g, (entity) => FIVE[entity as keyof typeof FIVE]);
const text = (node: unknown): string => {
  const raw = typeof node === "string" ? node : child(node, "#text");
  return typeof raw === "string" ? plainText(raw).trim().slice(0, LONGEST) : "";
};
const attribute = (node: unknown, name: string): string => text(child(node, `@${name}`));

/**
 * The document without its document type, which is of no use here: its internal part is where entities are smuggled in.
 * What never ends is left as it is, for the parser to refuse.
 */
function withoutDoctype(source: string): string {
  const start = source.slice(0, DOCTYPE_WITHIN).search(/<!DOCTYPE/i);
  if (start < 0) return source;
  const end = source.indexOf(">", start);
  const inside = source.indexOf("[", start);
  if (end < 0) return source;
  if (inside < 0 || inside > end) return source.slice(0, start) + source.slice(end + 1);
  const closed = source.indexOf("]", inside);
  const after = closed < 0 ? -1 : source.indexOf(">", closed);
  return after < 0 ? source : source.slice(0, start) + source.slice(after + 1);
}

/** A document type stands before everything else (characters). */
const DOCTYPE_WITHIN = 4_000;

/**
 * Read an ADF lead document (Auto-lead Data Format 1.0: `adf/prospect` with `requestdate`, `vehicle`, `customer`,
 * `vendor`; element names from memory). Written for vehicles, sent by all kinds of trades: what is asked for stands
 * in `vehicle`, whatever it is. Several prospects in one document give one reading each.
 */
export function readAdf(source: string): Read[] {
  let root: unknown;
  try {
    root = xml.parse(withoutDoctype(source));
  } catch (error) {
    return [fail(`The XML is broken: ${error instanceof Error ? error.message : String(error)}.`)];
  }
  const prospects = list(child(child(root, "adf") ?? child(root, "ADF"), "prospect"));
  if (prospects.length === 0) return [fail("The document has no <prospect> inside <adf>.")];
  return prospects.map(readProspect);
}

function readProspect(prospect: unknown): Read {
  const customer = child(prospect, "customer");
  const contact = child(customer, "contact");
  if (contact === undefined)
    return fail("The prospect has no <customer><contact>: there is nobody to reach.");
  const out: Record<string, string> = {};
  const put = (name: string, value: string) => {
    if (value && !out[name]) out[name] = value;
  };
  for (const id of list(child(prospect, "id"))) put("submission_id", text(id));
  putName(list(child(contact, "name")), put);
  const emails = list(child(contact, "email")).map(text).filter(Boolean);
  const phones = list(child(contact, "phone"));
  if (emails[0]) put("email", emails[0]);
  for (const [i, email] of emails.slice(1).entries()) put(`email ${i + 2}`, email);
  phones.forEach((phone, i) => {
    const kind = attribute(phone, "type") === "cellphone" ? "mobile" : "phone";
    put(i === 0 ? kind : `${kind} ${i + 1}`, text(phone));
    if (attribute(phone, "preferredcontact") === "1") put("preferred", "call");
  });
  const address = child(contact, "address");
  put(
    "address",
    [
      ...list(child(address, "street")).map(text),
      text(child(address, "city")),
      text(child(address, "regioncode")),
    ]
      .filter(Boolean)
      .join(", "),
  );
  put("postal_code", text(child(address, "postalcode")));
  for (const vehicle of list(child(prospect, "vehicle"))) {
    const wanted = ["year", "make", "model", "trim"]
      .map((n) => text(child(vehicle, n)))
      .filter(Boolean)
      .join(" ");
    put("product", wanted);
    for (const comment of list(child(vehicle, "comments"))) put("vehicle comments", text(comment));
  }
  put(
    "message",
    [...list(child(customer, "comments")), ...list(child(prospect, "comments"))]
      .map(text)
      .filter(Boolean)
      .join("\n"),
  );
  put("language", attribute(contact, "language"));
  put("requested at", text(child(prospect, "requestdate")));
  put("wanted in", text(child(child(customer, "timeframe"), "description")));
  put("vendor", text(child(child(prospect, "vendor"), "vendorname")));
  put("provider", text(list(child(child(prospect, "provider"), "name"))[0]));
  return { ok: true, fields: out };
}

function putName(names: readonly unknown[], put: (name: string, value: string) => void): void {
  for (const name of names) {
    const part = attribute(name, "part");
    if (attribute(name, "type") === "business") put("company", text(name));
    else if (part === "first") put("first_name", text(name));
    else if (part === "last") put("last_name", text(name));
    else if (part === "full" || part === "") put("name", text(name));
  }
}

/** Read the first contact card of a text (RFC 6350, and the older 3.0), with ical.js. */
export function readVcard(source: string): Read {
  let properties: [string, Record<string, string | string[]>, string, ...unknown[]][];
  try {
    const parsed = ICAL.parse(source.trim()) as unknown[];
    const card = (Array.isArray(parsed[0]) ? parsed[0] : parsed) as unknown[];
    properties = card[1] as typeof properties;
  } catch (error) {
    return fail(`The contact card is broken: ${error instanceof Error ? error.message : String(error)}.`);
  }
  const out: Record<string, string> = {};
  const put = (name: string, value: string) => {
    let key = name;
    for (let i = 2; out[key] !== undefined && i < 20; i++) key = `${name} ${i}`;
    if (value.trim()) out[key] = value.trim().slice(0, LONGEST);
  };
  const flat = (value: unknown): string[] =>
    Array.isArray(value) ? value.flatMap(flat) : [String(value ?? "")];
  for (const [name, params, , ...values] of properties) {
    const value = flat(values).filter(Boolean);
    const types = [params.type ?? []].flat().map((t) => t.toLowerCase());
    if (name === "fn") put("name", value.join(" "));
    else if (name === "n" && !properties.some(([n]) => n === "fn")) {
      const [family = "", given = ""] = flat(values[0]);
      put("name", `${given} ${family}`);
    } else if (name === "email") put("email", value[0] ?? "");
    else if (name === "tel")
      put(types.includes("cell") ? "mobile" : "phone", (value[0] ?? "").replace(/^tel:/, ""));
    else if (name === "org") put("company", value[0] ?? "");
    else if (name === "note") put("message", value.join("\n"));
    else if (name === "lang") put("language", value[0] ?? "");
    else if (name === "adr") {
      const [, , street = "", city = "", region = "", code = ""] = flat(values[0]);
      put("address", [street, city, region].filter(Boolean).join(", "));
      put("postal_code", code);
    } else if (name === "bday") put("birthday", value[0] ?? "");
    else if (name === "uid") put("submission_id", value[0] ?? "");
  }
  return Object.keys(out).length > 0 ? { ok: true, fields: out } : fail("The contact card is empty.");
}
