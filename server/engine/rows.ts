import { blockingKeys } from "../../core/contact/likely.ts";
import type { Plan } from "../../core/desk/plan.ts";
import { columnsDiffer, columnsOf, LISTED_BY } from "../../core/lead/columns.ts";
import type { LeadEvent } from "../../core/lead/events.ts";
import { claims, type Lead } from "../../core/lead/lead.ts";
import { packLead } from "../../core/lead/pack.ts";
import { placeOf } from "../../core/lead/queue.ts";
import type { Attachment } from "../../core/vocabulary.ts";
import { holderOf, identityOf } from "./looker.ts";

export const LEAD_COLUMNS = [
  "id",
  "seq",
  "leadJson",
  "place",
  "placeAt",
  "ownerId",
  "holderId",
  "createdAt",
  "lastActivityAt",
  "search",
  ...LISTED_BY,
] as const;

export const EVENT_COLUMNS = [
  "id",
  "leadId",
  "seq",
  "actId",
  "at",
  "actorJson",
  "kind",
  "dataJson",
  "whyJson",
] as const;

export function contactsDiffer(a: Lead, b: Lead): boolean {
  return a.phones !== b.phones || a.emails !== b.emails || a.shared !== b.shared || a.joinedTo !== b.joinedTo;
}

export function identityDiffers(a: Lead, b: Lead): boolean {
  return (
    contactsDiffer(a, b) ||
    a.name !== b.name ||
    a.company !== b.company ||
    a.facts.postalCode !== b.facts.postalCode
  );
}

/** The columns of a lead's row that are derived from the lead. Shared with `npm run verify`. */
export function leadRow(lead: Lead) {
  const { place, at } = placeOf(lead);
  return {
    id: lead.id,
    seq: lead.seq,
    leadJson: packLead(lead),
    place,
    placeAt: at,
    ownerId: lead.ownerId,
    holderId: holderOf(lead),
    createdAt: lead.createdAt,
    lastActivityAt: lead.lastActivityAt,
    search: [lead.name, lead.company, ...lead.emails, ...lead.phones].filter(Boolean).join(" ").toLowerCase(),
    ...columnsOf(lead),
  };
}

/** Whether everything a lead is sorted, counted and searched by is as it was. */
export function staysPut(before: Lead, after: Lead, row: ReturnType<typeof leadRow>): boolean {
  const was = placeOf(before);
  return (
    was.place === row.place &&
    was.at === row.placeAt &&
    before.ownerId === row.ownerId &&
    holderOf(before) === row.holderId &&
    !identityDiffers(before, after) &&
    !columnsDiffer(columnsOf(before), row)
  );
}

/** A new lead's plan with every text made: that costs most, and can be done in another thread than the writing. */
export interface PreparedLead {
  readonly row: ReturnType<typeof leadRow>;
  readonly events: readonly ReturnType<typeof eventRow>[];
  readonly claims: readonly string[];
  readonly keys: readonly string[];
}

/** Make the texts of a plan that begins a lead. */
export function prepareLead({ after, events }: Pick<Plan, "after" | "events">): PreparedLead {
  return {
    row: leadRow(after),
    events: events.map(eventRow),
    claims: claims(after),
    keys: blockingKeys(identityOf(after)),
  };
}

export function eventRow({ id, leadId, seq, actId, at, actor, kind, data, why }: LeadEvent) {
  return {
    id,
    leadId,
    seq,
    actId,
    at,
    kind,
    actorJson: JSON.stringify(actor),
    dataJson: JSON.stringify(data),
    whyJson: why ? JSON.stringify(why) : null,
  };
}

/** The files that came or went with something. */
export function filesOf({ data }: LeadEvent): readonly Attachment[] {
  if ("recording" in data && data.recording) return [data.recording];
  if ("estimate" in data && data.estimate.file) return [data.estimate.file];
  return ("attachments" in data && data.attachments) || [];
}
