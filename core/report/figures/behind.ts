import type { Setup } from "../../policy/setup.ts";
import { type Account, hasEntered } from "../account.ts";
import { MOST_TRIES } from "./effort.ts";
import { inTargetOf } from "./response.ts";
import { monthOf, qualifiedStage, type Won } from "./sources.ts";
import { type Grouping, isAnswerable, keyOf, type Span } from "./span.ts";
import { workHours } from "./staffing.ts";

/** What leads a figure may stand for, each in words. */
export const PARTS = {
  all: "came in",
  untried: "nobody has tried yet",
  censored: "not reached: they wait, or were closed or set aside before",
  "in-target": "tried within the target",
  late: "not tried within the target",
  reached: "reached",
  qualified: "qualified",
  won: "won",
} as const;
export type Part = keyof typeof PARTS;

export interface BehindAsked extends Span {
  readonly part: Part;
  readonly by: Grouping | "campaign" | "month" | "tries" | "work-hour" | null;
  /** What they fall under, as the figure names it; null stands for what is not known. */
  readonly key: string | null;
}

/** The leads a figure counts, the latest first. Never throws. */
export function leadsBehind(
  all: readonly Account[],
  won: (account: Account) => Won | null,
  asked: BehindAsked,
  setup: Setup,
): Account[] {
  const { zone } = setup.policies.desk;
  const qualified = qualifiedStage(setup).key;
  const workOf = workHours(setup, asked);
  const key = (a: Account) => {
    switch (asked.by) {
      case "campaign":
        return `${a.source} / ${a.campaign ?? ""}`;
      case "month":
        return monthOf(a.came, zone);
      case "tries":
        // As effort tells them: the last stands for all that have as many or more.
        return String(Math.min(a.tries, MOST_TRIES));
      case "work-hour":
        return String(workOf(a.came).hour);
      default:
        return asked.by && keyOf(a, asked.by, zone);
    }
  };
  const holds: Readonly<Record<Part, (a: Account) => boolean>> = {
    all: () => true,
    untried: (a) => a.triedAt === null,
    censored: (a) => a.talkedAt === null,
    "in-target": (a) => inTargetOf(a, asked.now) === true,
    late: (a) => inTargetOf(a, asked.now) === false,
    reached: (a) => a.talkedAt !== null,
    qualified: (a) => a.handedOverAt !== null || won(a) !== null || hasEntered(a, qualified),
    won: (a) => won(a) !== null,
  };
  return all
    .filter((a) => isAnswerable(a) && holds[asked.part](a) && (asked.by === null || key(a) === asked.key))
    .sort((a, b) => b.came - a.came);
}
