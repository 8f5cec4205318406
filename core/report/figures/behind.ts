import type { Setup } from "../../policy/setup.ts";
import { type Account, hasEntered, type TryAccount } from "../account.ts";
import {
  delayOf,
  hourThere,
  isJudged,
  isOpenAtTry,
  isReachedAtTry,
  MOST_TRIES,
  watchOver,
} from "./effort.ts";
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

/** What figures tell leads apart by, beside {@link Grouping}. */
export const BEHIND_BY = [
  "campaign",
  "month",
  "tries",
  "nth-try",
  "delay",
  "channel",
  "call-hour",
  "work-hour",
] as const;
export type BehindBy = Grouping | (typeof BEHIND_BY)[number];

export interface BehindAsked extends Span {
  readonly part: Part;
  readonly by: BehindBy | null;
  /** What they fall under, as the figure names it; null stands for what is not known. */
  readonly key: string | null;
}

/** Tries are told of by what was tried how and when; a lead counts once. */
const BY_TRIES: ReadonlySet<BehindBy | null> = new Set(["channel", "call-hour"]);

/** The leads a figure counts, the latest first. `tries` gives those of the leads. Never throws. */
export function leadsBehind(
  all: readonly Account[],
  won: (account: Account) => Won | null,
  tries: () => readonly TryAccount[],
  asked: BehindAsked,
  setup: Setup,
): Account[] {
  const { zone } = setup.policies.desk;
  const qualified = qualifiedStage(setup).key;
  const workOf = workHours(setup, asked);
  const answerable = all.filter(isAnswerable);
  const watch = asked.by === "delay" ? watchOver(answerable, asked, setup) : null;
  const key = (a: Account) => {
    switch (asked.by) {
      case "delay":
        return isJudged(a, asked) ? delayOf(a, watch!) : null;
      case "campaign":
        return `${a.source} / ${a.campaign ?? ""}`;
      case "month":
        return monthOf(a.came, zone);
      case "tries":
        // As effort tells them: the last stands for all that have as many or more.
        return String(Math.min(a.tries, MOST_TRIES));
      case "work-hour":
        return String(workOf(a.came).hour);
      case "nth-try":
      case "channel":
      case "call-hour":
        // Told of by their tries, below.
        return null;
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
  const latest = (some: Account[]) => some.sort((a, b) => b.came - a.came);
  if (asked.by === "nth-try") {
    const n = Number(asked.key);
    const isIn = asked.part === "reached" ? isReachedAtTry : isOpenAtTry;
    return latest(answerable.filter((a) => isOpenAtTry(a, n) && isIn(a, n)));
  }
  if (BY_TRIES.has(asked.by)) {
    const known = new Map(answerable.map((a) => [a.leadId, a]));
    const falls = (t: TryAccount) => {
      const account = known.get(t.leadId);
      if (!account || t.n === 0 || (asked.part === "reached" && t.reached === 0)) return [];
      const is =
        asked.by === "channel" ? t.channel : t.channel === "call" && String(hourThere(t, account, zone));
      return is === asked.key ? [account] : [];
    };
    return latest([...new Set(tries().flatMap(falls))]);
  }
  return latest(
    answerable.filter((a) => holds[asked.part](a) && (asked.by === null || key(a) === asked.key)),
  );
}
