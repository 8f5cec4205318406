import type { Setup } from "../../policy/setup.ts";
import { type Calendar, compileCalendar, openBetween } from "../../time/calendar.ts";
import { hourOfWeek } from "../../time/week-hours.ts";
import type { Account } from "../account.ts";
import { sayHourOfWeek } from "../words.ts";

/** Leads that came in `[from, to)` are told of, as they stand `now` (epoch ms). */
export interface Span {
  readonly from: number;
  readonly to: number;
  readonly now: number;
}

export const GROUPINGS = ["source", "person", "group", "product", "rule", "hour"] as const;
/** What leads are told apart by. */
export type Grouping = (typeof GROUPINGS)[number];

/** What a lead falls under; null where nothing is known. */
export function keyOf(account: Account, by: Grouping, zone: string): string | null {
  switch (by) {
    case "source":
      return account.source;
    case "person":
      return account.person;
    case "group":
      return account.groupId;
    case "product":
      return account.product;
    case "rule":
      return account.rule;
    case "hour":
      return String(hourOfWeek(account.came, zone));
  }
}

const NOTHING: Readonly<Record<Grouping, string>> = {
  source: "no source",
  person: "nobody",
  group: "no group",
  product: "not stated",
  rule: "no rule",
  hour: "",
};

/** What a group is called; what is no longer set up says so. */
export function nameOfKey(
  key: string | null,
  by: Grouping,
  { policies, people, groups, sources }: Setup,
): string {
  if (key === null) return NOTHING[by];
  const gone = (name: string | undefined) => name ?? `${key} (no longer here)`;
  switch (by) {
    case "source":
      return gone(sources.find((s) => s.id === key)?.name);
    case "person":
      return gone(people.find((p) => p.id === key)?.name);
    case "group":
      return gone(groups.find((g) => g.id === key)?.name);
    case "product":
      return policies.products.find((p) => p.key === key)?.name ?? key;
    case "rule":
      return gone(policies.rules.find((r) => r.id === key)?.name);
    case "hour":
      return sayHourOfWeek(Number(key));
  }
}

/** Sorted into groups, the largest first. */
export function grouped<T>(all: readonly T[], key: (one: T) => string | null): [string | null, T[]][] {
  const groups = new Map<string | null, T[]>();
  for (const one of all) {
    const of = key(one);
    const group = groups.get(of);
    if (group) group.push(one);
    else groups.set(of, [one]);
  }
  return [...groups].sort((a, b) => b[1].length - a[1].length);
}

export const CLOCKS = ["desk", "wall"] as const;
/** Whether only the desk's open time counts, or all of it. */
export type Clock = (typeof CLOCKS)[number];

const DAY = 86_400_000;
const MINUTE = 60_000;

/** Measures waits in minutes, by the wall or by the desk's hours as they are now. */
export class Stopwatch {
  readonly #calendar: Calendar | null;

  /** `from` is the earliest moment it is asked about, `to` the latest (epoch ms). */
  constructor(clock: Clock, { policies }: Setup, from: number, to: number) {
    this.#calendar = clock === "wall" ? null : compileCalendar(policies.desk, from - DAY, to + DAY);
  }

  /** From `a` to `b`, never less than 0. */
  minutes(a: number, b: number): number {
    const ms = this.#calendar ? openBetween(this.#calendar, a, b) : b - a;
    return Math.max(0, ms / MINUTE);
  }

  /** Whether there is any open time between two moments. */
  isEverOpen(a: number, b: number): boolean {
    return !this.#calendar || openBetween(this.#calendar, a, b) > 0;
  }
}

/** Whether somebody was to answer it: not kept from a list. */
export const isAnswerable = (account: Account): boolean => account.kept === 0;
