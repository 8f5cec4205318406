import type { Lead } from "./lead.ts";
import { bandOf, placeOf } from "./queue.ts";

/** The bands of the rounds, in the order they are worked. */
export const ROUND_BANDS = ["answer", "rung", "try", "due"] as const;
export type RoundBand = (typeof ROUND_BANDS)[number];

const BAND = { answer: "answer", rung: "rung", again: "try", today: "due" } as const;

/** A lead in its place in the rounds. */
export interface InRounds {
  readonly lead: Lead;
  readonly band: RoundBand;
  /** Epoch ms. */
  readonly dueAt: number;
  /** Put off today: it comes at the end. */
  readonly skipped: boolean;
}

/**
 * The leads that are due in a day, in the order they are worked: who waits for an answer, what rang, tries, planned follow-ups,
 * each by its time; what somebody put off today comes after all of it. Each lead once. Epoch ms; `dayEnd` exclusive.
 */
export function inRounds(
  leads: readonly Lead[],
  personId: string,
  now: number,
  dayBegin: number,
  dayEnd: number,
): readonly InRounds[] {
  const seen = new Set<string>();
  const items: InRounds[] = [];
  for (const lead of leads) {
    if (seen.has(lead.id)) continue;
    seen.add(lead.id);
    const place = placeOf(lead);
    const band = bandOf(place, dayEnd);
    const task = lead.tasks.find((t) => t.to.includes(personId) && t.dueAt < dayEnd);
    if ((band === null || band === "later") && !task) continue;
    const skipped =
      lead.skipped !== null && lead.skipped.personId === personId && lead.skipped.at >= dayBegin;
    // Whoever did something since they were put off comes first again.
    const heard =
      lead.skipped !== null && Math.max(lead.replyWaiting ?? 0, lead.callBack ?? 0) > lead.skipped.at;
    items.push({
      lead,
      band: band === null || band === "later" ? "due" : BAND[band],
      dueAt: band === null || band === "later" ? (task?.dueAt ?? now) : place.at,
      skipped: skipped && !heard,
    });
  }
  const order = (item: InRounds) => ROUND_BANDS.indexOf(item.band);
  return items.sort(
    (a, b) =>
      Number(a.skipped) - Number(b.skipped) ||
      (a.skipped && b.skipped ? (a.lead.skipped?.at ?? 0) - (b.lead.skipped?.at ?? 0) : 0) ||
      order(a) - order(b) ||
      a.dueAt - b.dueAt ||
      (a.lead.id < b.lead.id ? -1 : 1),
  );
}

/** What one lead takes where nothing is known of somebody's pace (ms): common practice. */
const USUAL = 100_000;
/** Longer pauses are no work (ms). */
const PAUSE = 15 * 60_000;

/** About how long one lead takes somebody (ms), by when they were done with those before: the middle one of the last twenty. */
export function paceOf(times: readonly number[]): number {
  const spans = times
    .slice(-21)
    .flatMap((at, i, all) => (i === 0 ? [] : [at - all[i - 1]!]))
    .filter((span) => span > 0 && span < PAUSE)
    .sort((a, b) => a - b);
  return spans.length < 3 ? USUAL : spans[Math.floor(spans.length / 2)]!;
}
