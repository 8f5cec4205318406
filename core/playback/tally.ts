import type { LeadEvent } from "../lead/events.ts";
import type { Lead } from "../lead/lead.ts";
import type { Rule, RuleSet } from "../policy/routing.ts";
import type { RecordedAct } from "./record.ts";

/** What a decision of the rules came to. */
export interface Outcome {
  readonly kind: "offer" | "standby" | "list" | "kept";
  readonly to: readonly string[];
  readonly ruleId: string | null;
  readonly groupId: string | null;
  /** When routing is tried again on its own (epoch ms). */
  readonly waitUntil: number | null;
}

/** Whether two decisions put the lead before the same people in the same way. */
export function sameOutcome(a: Outcome, b: Outcome): boolean {
  return a.kind === b.kind && a.to.length === b.to.length && a.to.every((id) => b.to.includes(id));
}

/**
 * Why an inquiry would have gone elsewhere: the rules that were live would have decided otherwise in the same situation, or
 * they would not, and turns, loads and people's hands alone had moved by then.
 */
export type Cause = "rules" | "moved";

/** An inquiry that would have gone elsewhere. */
export interface Difference {
  readonly leadId: string;
  readonly name: string | null;
  readonly sourceId: string;
  readonly at: number;
  readonly was: Outcome;
  readonly would: Outcome;
  readonly cause: Cause;
}

/** As it was, and as it would have been. */
type When = "was" | "would";
type Pair = Record<When, number>;

export interface PlaybackResult {
  /** Inquiries the rules decided about, and how many of them would first have gone elsewhere. */
  readonly inquiries: number;
  readonly changed: number;
  /** Of those that changed: how many by the rules themselves. The others were moved along. */
  readonly byRules: number;
  readonly people: readonly { readonly id: string; readonly offered: Pair; readonly got: Pair }[];
  readonly groups: readonly { readonly id: string; readonly offered: Pair }[];
  /** How often each rule that was played offered a lead, whether at first or later. */
  readonly rules: readonly {
    readonly id: string;
    readonly name: string;
    readonly off: boolean;
    readonly fired: number;
  }[];
  /** Inquiries that found nobody and waited for somebody to come on duty; how long in all (ms). */
  readonly waits: Record<When, { readonly count: number; readonly ms: number }>;
  readonly standby: Pair;
  readonly listed: Pair;
  /** Passes and offers that lapsed. */
  readonly refusals: Pair;
  /** The first of the differences, as many as are kept. */
  readonly differences: readonly Difference[];
}

/** How many differences are kept: more than anybody reads. */
const KEPT = 5_000;

const pair = (): Pair => ({ was: 0, would: 0 });

/** Adds up a playback as it goes. */
export class Tally {
  readonly #people = new Map<string, { offered: Pair; got: Pair }>();
  readonly #groups = new Map<string, Pair>();
  readonly #fired = new Map<string, number>();
  readonly #waits = { was: { count: 0, ms: 0 }, would: { count: 0, ms: 0 } };
  readonly #standby = pair();
  readonly #listed = pair();
  readonly #refusals = pair();
  readonly #differences: Difference[] = [];
  readonly #rules: readonly Rule[];
  #inquiries = 0;
  #changed = 0;
  #byRules = 0;

  constructor({ rules }: RuleSet) {
    this.#rules = rules;
  }

  /** A decision was made again. Only an inquiry's first decision is compared. */
  decided(
    act: RecordedAct,
    lead: Lead,
    was: Outcome,
    would: Outcome,
    rule: Rule | null,
    inquired: boolean,
    cause: Cause | null,
  ): void {
    if (rule) this.#fired.set(rule.id, (this.#fired.get(rule.id) ?? 0) + 1);
    if (!inquired) return;
    this.#inquiries++;
    this.#count("was", was, act.at);
    this.#count("would", would, act.at);
    if (cause) this.#differ(act, lead, was, would, cause);
  }

  /** An inquiry the rules decided about then stays with whoever would have the lead by now. */
  kept(act: RecordedAct, lead: Lead, was: Outcome, ownerId: string | null): void {
    this.#inquiries++;
    this.#count("was", was, act.at);
    const to = ownerId ? [ownerId] : [];
    this.#differ(act, lead, was, { kind: "kept", to, ruleId: null, groupId: null, waitUntil: null }, "moved");
  }

  #differ(
    { leadId, at }: RecordedAct,
    { name, sourceId }: Lead,
    was: Outcome,
    would: Outcome,
    cause: Cause,
  ): void {
    this.#changed++;
    if (cause === "rules") this.#byRules++;
    if (this.#differences.length < KEPT)
      this.#differences.push({ leadId, name, sourceId, at, was, would, cause });
  }

  /** Somebody who was never really asked passes, or lets the offer lapse. */
  refused(): void {
    this.#refusals.would++;
  }

  retried(rule: Rule | null): void {
    if (rule) this.#fired.set(rule.id, (this.#fired.get(rule.id) ?? 0) + 1);
  }

  got(when: When, personId: string): void {
    this.#person(personId).got[when]++;
  }

  /** What people really did; where the lead went another way it does not count for now. */
  heed(event: LeadEvent, gone: boolean): void {
    const both = (count: (when: When) => void) => {
      count("was");
      if (!gone) count("would");
    };
    if (!this.#began) return;
    if (event.kind === "taken") both((when) => this.got(when, event.data.personId));
    if (event.kind === "given" && event.data.standby) both((when) => this.got(when, event.data.to));
    if (event.kind === "passed" || event.kind === "lapsed") both((when) => this.#refusals[when]++);
  }

  /** Nothing counts before the first decision. */
  get #began(): boolean {
    return this.#inquiries > 0 || this.#fired.size > 0;
  }

  #count(when: When, { kind, to, groupId, waitUntil }: Outcome, at: number): void {
    if (kind === "offer") for (const id of to) this.#person(id).offered[when]++;
    if (kind === "standby") this.#standby[when]++;
    if (kind === "list") this.#listed[when]++;
    if (groupId) this.#group(groupId)[when]++;
    if (waitUntil === null) return;
    this.#waits[when].count++;
    this.#waits[when].ms += waitUntil - at;
  }

  #person(id: string): { offered: Pair; got: Pair } {
    const known = this.#people.get(id) ?? { offered: pair(), got: pair() };
    this.#people.set(id, known);
    return known;
  }

  #group(id: string): Pair {
    const known = this.#groups.get(id) ?? pair();
    this.#groups.set(id, known);
    return known;
  }

  result(): PlaybackResult {
    return {
      inquiries: this.#inquiries,
      changed: this.#changed,
      byRules: this.#byRules,
      people: [...this.#people].map(([id, counts]) => ({ id, ...counts })),
      groups: [...this.#groups].map(([id, offered]) => ({ id, offered })),
      rules: this.#rules.map((r) => ({
        id: r.id,
        name: r.name,
        off: r.off === true,
        fired: this.#fired.get(r.id) ?? 0,
      })),
      waits: this.#waits,
      standby: this.#standby,
      listed: this.#listed,
      refusals: this.#refusals,
      differences: this.#differences,
    };
  }
}
