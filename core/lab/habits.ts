import type { LeadEvent } from "../lead/events.ts";
import { Answers } from "../playback/answers.ts";

/** How one of ours answers what they are asked, and works on what they have. */
export interface Habits {
  /** Of offers, the share that is taken, and the share that is passed; the rest is let lapse. */
  readonly takes: number;
  readonly passes: number;
  /** How long they take to answer (ms): one of these each time. */
  readonly answersAfter: readonly number[];
  /** Whether they answer while they are with another lead. */
  readonly answersWhileBusy: boolean;
  /** How long a try takes until it is done with (ms), on average: exponential. */
  readonly handling: number;
}

/** How leads are, in the lab. */
export interface Leads {
  /** The chance that a try reaches them: at the first, at the second … the last holds for all later ones. */
  readonly reached: readonly number[];
  /** The chance that somebody who was reached is won in the end. */
  readonly won: number;
}

/** How everybody acts, in the lab: nothing that a policy decides. */
export interface Behaviour {
  readonly people: ReadonlyMap<string, Habits>;
  /** Of whoever is not among them. */
  readonly others: Habits;
  readonly leads: Leads;
  /** Key of the outcome of a try that reached somebody, and of one that did not. */
  readonly outcomes: { readonly reached: string; readonly missed: string };
}

const MINUTE = 60_000;

/** What is taken for granted of people nothing is known of: common practice. */
export const USUAL_HABITS: Habits = {
  takes: 0.75,
  passes: 0.1,
  answersAfter: [20_000, 40_000, MINUTE, 90_000],
  answersWhileBusy: true,
  handling: 6 * MINUTE,
};

/** Fewer answers than this say nothing of somebody. */
const ENOUGH = 12;
/** So many answers of one person are drawn from. */
const KEPT = 200;

/** How each has answered offers, from the record of what happened, in the order in which it happened. */
export function habitsOf(
  events: Iterable<LeadEvent>,
  people: readonly string[],
  handling: number,
): ReadonlyMap<string, Habits> {
  const answers = new Answers();
  for (const event of events) answers.learn(event);
  return new Map(
    people.flatMap((id) => {
      const own = Array.from({ length: KEPT }, () => answers.of(id)).flatMap((a) => a ?? []);
      if (own.length < ENOUGH) return [];
      const did = (what: string) => own.filter((a) => a.did === what).length / own.length;
      const after = own.filter((a) => a.did !== "lapsed").map((a) => a.after);
      return [
        [
          id,
          {
            takes: did("took"),
            passes: did("passed"),
            answersAfter: after.length > 0 ? after : USUAL_HABITS.answersAfter,
            answersWhileBusy: true,
            handling,
          },
        ],
      ];
    }),
  );
}
