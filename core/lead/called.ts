import { readablePhone } from "../contact/readable-phone.ts";
import type { Lead } from "./lead.ts";

/** What to call a lead by: its name, else what is known best of it. */
export function nameOrNumber(
  lead: Pick<Lead, "name" | "company" | "phones" | "emails"> & { readonly erased?: unknown },
): string {
  if (lead.erased) return "Erased person";
  const [phone] = lead.phones;
  return lead.name ?? lead.company ?? (phone && readablePhone(phone)) ?? lead.emails[0] ?? "Somebody";
}

/** What a lead is called wherever it is seen: a test says that it is one. */
export function called(
  lead: Pick<Lead, "name" | "company" | "phones" | "emails"> & {
    readonly test?: boolean | undefined;
    readonly erased?: unknown;
  },
): string {
  return lead.test ? `Test: ${nameOrNumber(lead)}` : nameOrNumber(lead);
}
