import type { Ladder, LatePolicy, MorningPolicy, Rung, Target } from "../policy/bells.ts";
import { forParked } from "../policy/cadence.ts";
import type { WakeRule } from "../policy/parking.ts";
import { type Policies, type Setup, withStep } from "../policy/setup.ts";
import { type Refused, refuse } from "../refusal.ts";
import type { DaySpan, Hours } from "../time/calendar.ts";
import { spansOn } from "../time/calendar.ts";
import type { Changed } from "./change.ts";
import { hoursProblem } from "./change-people.ts";

/** What Set-up › Bells changes as one thing. */
export interface BellsChange {
  readonly targets: readonly Target[];
  readonly ladders: readonly Ladder[];
  readonly late: LatePolicy;
  readonly counts: Policies["counts"];
}

/** Longest target (minutes): a calendar is compiled for about a year. */
const LONGEST = 90 * 1440;

const put = (setup: Setup, change: Partial<Policies>): Changed => ({
  ok: true,
  setup: { ...setup, policies: { ...setup.policies, ...change } },
});

const wrong = (detail: string, path: string, title = "Something can’t be used"): Refused =>
  refuse("cant-be-used", 422, title, detail, path);

/** Change targets and ladders. Running bells keep theirs unless they are told otherwise afterwards. */
export function changeBells(setup: Setup, change: BellsChange): Changed {
  const { targets, ladders, late, counts } = change;
  if (counts.length === 0)
    return wrong("One way of trying at least must answer a bell.", "counts", "Nothing answers a bell");
  const problem =
    firstProblem(ladders, (ladder, i) => ladderProblem(setup, ladder, ladders, `ladders.${i}`)) ??
    firstProblem(targets, (target, i) => targetProblem(target, ladders, `targets.${i}`));
  if (problem) return problem;
  const last = targets.filter((t) => !t.about && !t.off).at(-1);
  if (!last || last.when !== null)
    return wrong(
      "The last target for a new inquiry must hold for everything, so that no lead is without a bell.",
      "targets",
      "Some leads would have no bell",
    );
  return put(setup, { targets, ladders, late, counts });
}

function firstProblem<T>(list: readonly T[], find: (item: T, i: number) => Refused | null): Refused | null {
  for (const [i, item] of list.entries()) {
    const found = find(item, i);
    if (found) return found;
  }
  return null;
}

function targetProblem(target: Target, ladders: readonly Ladder[], path: string): Refused | null {
  if (!target.name.trim()) return wrong("Give the target a name to find it by.", `${path}.name`);
  if (!(target.minutes >= (target.about === "promise" ? 0 : 1) && target.minutes <= LONGEST))
    return wrong("A target is one minute at least and ninety days at most.", `${path}.minutes`);
  if (!ladders.some((l) => l.id === target.ladderId))
    return wrong("Choose one of the ladders.", `${path}.ladderId`);
  return null;
}

function ladderProblem(setup: Setup, ladder: Ladder, all: readonly Ladder[], path: string): Refused | null {
  const name = ladder.name.trim().toLowerCase();
  if (!name) return wrong("Give the ladder a name to find it by.", `${path}.name`);
  if (all.some((l) => l !== ladder && l.name.trim().toLowerCase() === name))
    return wrong(`Two ladders are called “${ladder.name}”.`, `${path}.name`);
  return firstProblem(ladder.rungs, (rung, i) => rungProblem(setup, rung, `${path}.rungs.${i}`));
}

function rungProblem(setup: Setup, rung: Rung, path: string): Refused | null {
  const { groups } = setup;
  if (rung.act === "ring") return wrong("The bell itself is part of every ladder.", `${path}.act`);
  if (rung.fraction < 0 || rung.fraction > 1)
    return wrong("A rung lies between the arrival and the bell, or after it.", `${path}.fraction`);
  if (rung.fraction < 1 && rung.plusMinutes !== 0)
    return wrong("Minutes are added after the bell only.", `${path}.plusMinutes`);
  if (rung.plusMinutes < 0 || rung.plusMinutes > LONGEST)
    return wrong("A rung comes at the bell or after it, by ninety days at most.", `${path}.plusMinutes`);
  if (rung.act === "group" && !groups.some((g) => g.id === rung.groupId))
    return wrong("Choose the group it is offered to.", `${path}.groupId`);
  if (rung.act === "tag" && !rung.tag?.trim()) return wrong("Say which tag.", `${path}.tag`);
  if (rung.act === "park" && rung.planId && !forParked(setup).some((c) => c.id === rung.planId))
    return wrong("Choose one of the cadences for parked leads, or none.", `${path}.planId`);
  if (rung.act === "nudge" && rung.ways?.length === 0)
    return wrong("Choose a way at least, or the ways they have chosen themselves.", `${path}.ways`);
  return null;
}

/** Change the desk's hours: the week, the days that differ, and whose holidays are kept. */
export function changeDeskHours(
  setup: Setup,
  change: { readonly desk: Hours; readonly holidays: Policies["holidays"] },
): Changed {
  const { desk } = change;
  for (const [day, spans] of Object.entries(desk.week)) {
    const bad = badSpans(spans ?? []);
    if (bad) return wrong(bad, `desk.week.${day}`);
  }
  for (const [date, { name, spans }] of Object.entries(desk.exceptions ?? {})) {
    if (!name.trim())
      return wrong(
        "Say what that day is: it is the reason on every bell it moves.",
        `desk.exceptions.${date}.name`,
      );
    const bad = badSpans(spans);
    if (bad) return wrong(bad, `desk.exceptions.${date}`);
  }
  if (Object.values(desk.week).every((spans) => (spans ?? []).length === 0))
    return wrong("A desk that never opens rings no bell.", "desk.week", "It is never open");
  const settled = withStep(setup.policies.settled, "hours", true);
  return hoursProblem(desk, "desk") ?? put(setup, { ...change, settled });
}

/** What is wrong with the open spans of a day, in words; null when they can be used. */
function badSpans(spans: readonly DaySpan[]): string | null {
  let last = "";
  for (const [open, close] of [...spans].sort(([a], [b]) => a.localeCompare(b))) {
    if (!(open < close)) return `It opens at ${open} and closes at ${close}: the first must be earlier.`;
    if (open < last) return `Two spans overlap at ${open}.`;
    last = close;
  }
  return null;
}

/** The desk closes on a date from a wall time on: what was open after it is open no more. */
export function closedFrom(setup: Setup, date: string, from: string, name = "Closed early"): Setup {
  const { desk } = setup.policies;
  const spans = spansOn(desk, date)
    .filter(([open]) => open < from)
    .map(([open, close]): DaySpan => [open, close > from ? from : close]);
  const before = desk.exceptions?.[date] ?? null;
  // Closed early twice on one day: what it was before the first time is what comes back.
  const instead = before?.instead === undefined ? before : before.instead;
  const exceptions = { ...desk.exceptions, [date]: { name, spans, instead } };
  return { ...setup, policies: { ...setup.policies, desk: { ...desk, exceptions } } };
}

/** Take back an early closing: the date is again what it was before. Refused when it was not closed early. */
export function openAgain(setup: Setup, date: string): Changed {
  const { desk } = setup.policies;
  const { [date]: closing, ...others } = desk.exceptions ?? {};
  if (!closing || closing.instead === undefined)
    return refuse(
      "not-closed-early",
      409,
      "Not closed early",
      "The desk was not closed early on that day.",
      "date",
    );
  const exceptions = closing.instead ? { ...others, [date]: closing.instead } : others;
  return { ok: true, setup: { ...setup, policies: { ...setup.policies, desk: { ...desk, exceptions } } } };
}

/** Change what wakes parked leads. */
export function changeParking(setup: Setup, { wakes }: { readonly wakes: readonly WakeRule[] }): Changed {
  return firstProblem(wakes, (rule, i) => wakeProblem(rule, `wakes.${i}`)) ?? put(setup, { wakes });
}

function wakeProblem(rule: WakeRule, path: string): Refused | null {
  if (!rule.name.trim()) return wrong("Give the rule a name to find it by.", `${path}.name`);
  if (rule.signals.length === 0) return wrong("Choose a signal at least.", `${path}.signals`);
  if (rule.calmHours < 0 || rule.calmHours > 2400)
    return wrong("A calm-down is a hundred days at most.", `${path}.calmHours`);
  return null;
}

/** Change the morning summary. */
export function changeMorning(setup: Setup, morning: MorningPolicy): Changed {
  if (morning.on && morning.ways.length === 0)
    return wrong("Choose email, chat, or both.", "morning.ways", "It would reach nobody");
  return put(setup, { morning });
}
