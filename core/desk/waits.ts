import { isWaiting, type Lead } from "../lead/lead.ts";
import { isOff, type Person } from "../policy/people.ts";

/** Whether a lead needs its owner before `until` (epoch ms): a bell, an answer, a call back, or a step that falls due. */
export function waitsOnOwner(lead: Lead, until: number): boolean {
  if (lead.closed) return false;
  return (
    isWaiting(lead) ||
    lead.replyWaiting !== null ||
    lead.callBack !== null ||
    (lead.nextStep !== null && lead.nextStep.dueAt < until) ||
    (lead.booked !== null && lead.booked.at < until)
  );
}

/** Why somebody's leads are with cover now, until when, and who covers; null while they are there or nobody covers. */
export function coverNow(
  person: Person,
  now: number,
  endOfDay: number,
): { coverId: string; reason: string; until: number } | null {
  const absence = person.absences.find((a) => a.from <= now && now < a.to);
  if (absence?.coverId && absence.waiting !== "stays")
    return { coverId: absence.coverId, reason: `is away: ${absence.reason}`, until: absence.to };
  if (isOff(person, now) && person.cover)
    return { coverId: person.cover, reason: "went off duty", until: person.offUntil ?? endOfDay };
  return null;
}

/** Whether what went to cover comes back to somebody now that they are there again. */
export function comesBack(person: Person, now: number): boolean {
  const last = person.absences.filter((a) => a.to <= now).sort((a, b) => b.to - a.to)[0];
  const away = person.absences.some((a) => a.from <= now && now < a.to);
  return !away && !isOff(person, now) && last?.after !== "stays";
}
