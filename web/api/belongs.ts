import type { APIContext } from "astro";
import { isTheirs } from "../../core/access/access.ts";
import type { Lead } from "../../core/lead/lead.ts";
import type { Desk } from "../../server/desk.ts";
import { isCustomerOf } from "./book.ts";
import type { Caller } from "./identify.ts";

type Asks = Pick<Caller, "me" | "rights">;

/** The lead, when it is the business of whoever asks; null when it is not, or there is none: nobody learns which. */
export function leadFor(desk: Desk, { me, rights }: Asks, leadId: string): Lead | null {
  const lead = desk.looker.lead(leadId);
  return lead && (rights.has("leads.all") || isTheirs(lead, me.id)) ? lead : null;
}

/** Whether a file came with a lead that is their business, or was uploaded by them. */
export function mayHaveFile(desk: Desk, asks: Asks, fileId: string): boolean {
  if (asks.rights.has("leads.all")) return true;
  const { by, leadIds } = desk.files.belongsTo(fileId);
  return by === asks.me.id || leadIds.some((id) => leadFor(desk, asks, desk.looker.survivor(id)) !== null);
}

/** What the ids in paths name: each is checked against who asks here, before any endpoint. */
const OWNED: Readonly<Record<string, (context: APIContext, asks: Asks, id: string) => boolean>> = {
  "/leads/[id]": ({ locals }, asks, id) => leadFor(locals.desk, asks, id) !== null,
  "/rounds/[id]": ({ locals }, asks, id) => leadFor(locals.desk, asks, id) !== null,
  "/companies/[id]": ({ locals }, asks, id) => isCustomerOf(locals.desk, asks, id),
  "/contacts/[id]": ({ locals }, asks, id) => isCustomerOf(locals.desk, asks, id),
  "/deals/[id]": ({ locals }, asks, id) => isCustomerOf(locals.desk, asks, id),
  "/estimates/[id]": ({ locals }, asks, id) => {
    const leadId = locals.desk.estimates.leadOf(id);
    return leadId !== null && leadFor(locals.desk, asks, leadId) !== null;
  },
  "/calls/[id]": ({ locals }, { me }, id) => locals.dialer.personOf(id) === me.id,
  "/files/[id]": ({ locals }, asks, id) => mayHaveFile(locals.desk, asks, id),
};

/** Whether what the path names is the business of whoever asks. True for paths that name nothing of anybody's. */
export function isBusinessOf(context: APIContext, caller: Caller, pattern: string): boolean {
  const { id } = context.params;
  const [, kind] = pattern.split("/", 2);
  const check = OWNED[`/${kind}/[id]`];
  return id === undefined || check === undefined || !pattern.startsWith(`/${kind}/[id]`)
    ? true
    : check(context, caller, id);
}
