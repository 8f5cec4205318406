import type { Lead } from "../../../core/lead/lead.ts";
import { type OnList, onList } from "../../../core/report/managers-list.ts";
import type { Desk } from "../../../server/desk.ts";

/** How a manager's link stands when it is opened: what rings, or that nothing does any more. */
export type ManageStands =
  | { readonly state: "unknown" }
  | { readonly state: "rings"; readonly lead: Lead; readonly on: OnList }
  | { readonly state: "quiet"; readonly lead: Lead };

/** What a manager's link is about now. */
export function ringsNow(desk: Desk, leadId: string | undefined): ManageStands {
  const lead = leadId === undefined ? null : desk.look(desk.looker.survivor(leadId)).lead;
  if (!lead) return { state: "unknown" };
  const on = onList(lead, desk.setup, desk.clock.now());
  return on ? { state: "rings", lead, on } : { state: "quiet", lead };
}
