import type { Estimate, Lead } from "../../core/lead/lead.ts";
import type { Desk } from "../../server/desk.ts";

/** A document of our own making, to be shown where it is opened. */
export const pdfOf = (bytes: Buffer, name: string): Response =>
  new Response(new Uint8Array(bytes), {
    headers: {
      "content-type": "application/pdf",
      "content-disposition": `inline; filename="${name}"`,
      "x-content-type-options": "nosniff",
      "cache-control": "private, no-store",
    },
  });

/** An estimate with its lead; null when there is none of that id. */
export function estimateFor(
  desk: Desk,
  id: string,
): { readonly lead: Lead; readonly estimate: Estimate } | null {
  const leadId = desk.estimates.leadOf(id);
  const lead = leadId ? desk.looker.lead(leadId) : null;
  const estimate = lead?.estimates.find((e) => e.id === id);
  return lead && estimate ? { lead, estimate } : null;
}
