import type { Lead } from "../lead/lead.ts";

/** Leads of the same household: entered as related, or sharing a number several people have. Newest first. */
export function householdOf(
  lead: Lead,
  find: { byId: (id: string) => Lead | null; sharing: (value: string) => readonly Lead[] },
): { leadName: string; ownerId: string }[] {
  const others = [
    ...lead.related.flatMap((r) => (r.leadId ? (find.byId(r.leadId) ?? []) : [])),
    ...[...lead.phones, ...lead.emails].flatMap((value) => find.sharing(value)),
  ];
  const owned = others.flatMap((o) =>
    o.id !== lead.id && o.ownerId && !o.joinedTo
      ? [{ leadName: o.name ?? "somebody", ownerId: o.ownerId, at: o.lastActivityAt }]
      : [],
  );
  return owned.sort((a, b) => b.at - a.at);
}
