import { evaluate, inWords, whyNot } from "../condition/condition.ts";
import type { Trace, TraceStep } from "../lead/event.ts";
import { factsOf, namesIn } from "../lead/fields.ts";
import type { Lead } from "../lead/lead.ts";
import {
  calendarAround,
  GROUP_WAYS,
  type Group,
  type GroupWay,
  nextOnDuty,
  type Person,
  presence,
} from "../policy/people.ts";
import type { Rule } from "../policy/routing.ts";
import { nameOf, personOf, type Setup } from "../policy/setup.ts";
import { whyUntold } from "../policy/told.ts";
import { type RotationMove, type RotationState, type TurnTaken, takeTurn } from "../rotation/turns.ts";
import { nextOpening } from "../time/calendar.ts";
import { type Room, skillMatch, whyNotEligible } from "./eligible.ts";

/** What a decision about a lead's next hands needs to know. */
export interface RoutingWorld extends Room {
  readonly rotations: Readonly<Record<string, RotationState>>;
  /** Who has leads of the same household: the newest first. Asked only when the company wants to know. */
  readonly household: (lead: Lead) => readonly { readonly leadName: string; readonly ownerId: string }[];
}

export type Decision = { readonly trace: Trace } & (
  | {
      readonly kind: "offer";
      readonly to: readonly string[];
      readonly open: boolean;
      readonly rule: Rule;
      readonly rotation: Turning | null;
    }
  /** Nobody the rules name can have it: a standby person gets it outright. */
  | { readonly kind: "standby"; readonly to: string; readonly reason: string }
  | { readonly kind: "list"; readonly reason: string; readonly retryAt: number | null }
);

type Turning = RotationMove & { readonly turn: TurnTaken };

const DAY = 86_400_000;

/**
 * A decision in the making. Its thoughts are only written down when somebody may ask for them: a playback makes a
 * hundred thousand decisions and reads none of their words.
 */
class Thinking {
  readonly steps: TraceStep[] = [];
  /** Everybody some rule could have meant: when they are back, it is worth asking again. */
  readonly candidates = new Set<Person>();

  constructor(
    readonly world: RoutingWorld,
    readonly lead: Lead,
    readonly silent: boolean,
  ) {}

  note(kind: TraceStep["kind"], name: string, yes: boolean, reason: () => string): void {
    if (!this.silent) this.steps.push({ kind, name, result: yes ? "yes" : "no", reason: reason() });
  }

  done(outcome: () => string): Trace {
    return this.silent
      ? NOTHING_SAID
      : { outcome: outcome(), steps: this.steps, rules: this.world.setup.policies.routing.version };
  }
}

const NOTHING_SAID: Trace = { outcome: "", steps: [] };

/**
 * To whom the lead goes now. Rules are asked in order; the first that holds decides, unless it says that the
 * rules after it are asked when it comes to nothing. Pure and complete: the trace names every rule asked with the part
 * that failed, every candidate with why not, and how the choice fell. `silent` leaves the trace empty.
 */
export function route(world: RoutingWorld, lead: Lead, silent = false): Decision {
  const { setup, now } = world;
  const thinking = new Thinking(world, lead, silent);
  const together = setup.policies.setAside.household ? byHousehold(thinking) : null;
  if (together) return together;
  const facts = factsOf(lead, setup, now);
  for (const rule of setup.policies.rules) {
    if (rule.off) {
      thinking.note("rule", rule.name, false, () => "is switched off");
      continue;
    }
    if (!evaluate(rule.when, facts)) {
      thinking.note("rule", rule.name, false, () => `needs ${whyNot(rule.when, facts, namesIn(setup))}`);
      continue;
    }
    thinking.note("rule", rule.name, true, () =>
      rule.when ? inWords(rule.when, namesIn(setup)) : "fits every lead",
    );
    const { offer, reason } = byRule(thinking, rule);
    if (offer) return offer;
    if (rule.otherwise === "onward") {
      thinking.note("rule", rule.name, false, () => `${reason}: the next rules are asked`);
      continue;
    }
    return nobody(thinking, reason, rule.otherwise === "list");
  }
  return nobody(thinking, "no rule fits this lead", false);
}

/** Offer by one rule, whatever its condition: what a move by hand to a group does. */
export function offerBy(world: RoutingWorld, lead: Lead, rule: Rule): Decision {
  const thinking = new Thinking(world, lead, false);
  const { offer, reason } = byRule(thinking, rule);
  return offer ?? nobody(thinking, reason, false);
}

/** Whoever has a lead of the same household is asked first. */
function byHousehold(thinking: Thinking): Decision | null {
  const { world, lead } = thinking;
  if (lead.ownerId) return null;
  for (const { leadName, ownerId } of world.household(lead)) {
    const person = personOf(world.setup, ownerId);
    if (person?.role !== "salesperson") continue;
    const reason = whyNotEligible(person, lead, world, true);
    thinking.note("aside", person.name, !reason, () => reason ?? `has ${leadName}, of the same household`);
    if (!reason) return offered(thinking, HOUSEHOLD, { to: [person.id], open: false, rotation: null });
  }
  return null;
}

const HOUSEHOLD: Rule = {
  id: "household",
  name: "The household stays together",
  when: null,
  to: { credit: true },
  offerMinutes: 5,
};

interface Choice {
  readonly to: readonly string[];
  readonly open: boolean;
  readonly rotation: Turning | null;
}

type ByRule =
  | { readonly offer: Decision; readonly reason: string }
  | { readonly offer: null; readonly reason: string };

function byRule(thinking: Thinking, rule: Rule): ByRule {
  const { world, lead } = thinking;
  const group =
    "group" in rule.to
      ? world.setup.groups.find((g) => g.id === (rule.to as { group: string }).group)
      : undefined;
  const meant = whoIsMeant(thinking, rule, group);
  if (!meant.ok) return { offer: null, reason: meant.reason };
  const eligible = meant.people.filter((person) => {
    thinking.candidates.add(person);
    const reason = whyNotEligible(person, lead, world, rule.anyFit);
    thinking.note("candidate", person.name, !reason, () => reason ?? "can have it");
    return !reason;
  });
  if (eligible.length === 0) {
    const wereAsked = meant.people.length > 0 && meant.people.every((p) => lead.refused.includes(p.id));
    const whom = group?.name ?? "the rule";
    const reason = wereAsked
      ? `everyone in ${whom} was asked; nobody took it`
      : `nobody in ${whom} can have it now`;
    return { offer: null, reason };
  }
  const choice = choose(thinking, rule, group, eligible);
  return { offer: offered(thinking, rule, choice), reason: "" };
}

function offered(thinking: Thinking, rule: Rule, { to, open, rotation }: Choice): Decision {
  const { setup } = thinking.world;
  const trace = thinking.done(
    () => `Offered to ${to.map((id) => nameOf(setup, id)).join(", ")} by the rule “${rule.name}”.`,
  );
  return { kind: "offer", to, open, rule, rotation, trace };
}

type Meant =
  | { readonly ok: true; readonly people: readonly Person[] }
  | { readonly ok: false; readonly reason: string };

function whoIsMeant({ world, lead }: Thinking, { to }: Rule, group: Group | undefined): Meant {
  const { setup, now } = world;
  const found = (ids: readonly (string | null | undefined)[], missing: string): Meant => {
    const people = ids.flatMap((id) => personOf(setup, id) ?? []);
    return people.length > 0 ? { ok: true, people } : { ok: false, reason: missing };
  };
  if ("person" in to) return found([to.person], "the person it names no longer works here");
  if ("group" in to)
    return group
      ? found(
          group.members.map((m) => m.personId),
          `nobody is in ${group.name}`,
        )
      : { ok: false, reason: "the group it names is gone" };
  if ("credit" in to) return found([lead.creditId], "the credit lies with nobody");
  const { lastOwner } = lead;
  if (!lastOwner) return { ok: false, reason: "nobody has had it before" };
  const days = (now - lastOwner.at) / DAY;
  if (days > to.formerWithin)
    return {
      ok: false,
      reason: `${nameOf(setup, lastOwner.personId)} last worked it ${Math.floor(days)} days ago, more than ${to.formerWithin}`,
    };
  return found([lastOwner.personId], "whoever had it no longer works here");
}

function choose(
  thinking: Thinking,
  rule: Rule,
  group: Group | undefined,
  eligible: readonly Person[],
): Choice {
  const { world } = thinking;
  const chosen = (to: readonly Person[], reason: () => string, rotation: Turning | null = null): Choice => {
    thinking.note("choice", to.map((p) => p.name).join(", "), true, reason);
    return { to: to.map((p) => p.id), open: false, rotation };
  };
  const only = eligible[0]!;
  if (!group) return chosen([only], () => REASONS[Object.keys(rule.to)[0]!] ?? "the rule names them");
  const way: GroupWay = ("group" in rule.to && rule.to.way) || group.way;
  switch (way) {
    case "open-call":
      return { ...chosen(eligible, () => "open call: the first to take it has it"), open: true };
    case "fewest-open": {
      const load = (p: Person) => world.loads[p.id] ?? 0;
      const least = eligible.reduce((a, b) => (load(b) < load(a) ? b : a));
      return chosen([least], () => `holds the fewest open leads (${load(least)})`);
    }
    case "best-match":
      return bestMatch(thinking, eligible, chosen);
    case "rotation":
    case "weighted": {
      const before = world.rotations[group.id] ?? {};
      const can = new Set(eligible.map((p) => p.id));
      const move = takeTurn(group, can, before, way === "rotation", turnsGivenBack(thinking, group));
      if (!move) return chosen([only], () => `everybody else in ${group.name} has the weight 0`);
      const next = eligible.find((p) => p.id === move.turn.personId)!;
      const choice = chosen([next], () => `their turn in ${group.name} by ${GROUP_WAYS[way]}`, move);
      thinking.note("rotation", group.name, true, () => standings(world.setup, group, move));
      return choice;
    }
  }
}

/** Members who could have the lead, had they not refused it, and whose turn was given back for that. */
function turnsGivenBack({ world, lead }: Thinking, group: Group): ReadonlySet<string> {
  const { pass, lapse } = world.setup.policies.turns;
  const refused = new Set(pass === "kept" && lapse === "kept" ? [] : lead.refused);
  const asked = { ...lead, refused: [] };
  return new Set(
    group.members.flatMap(({ personId }) => {
      const person = refused.has(personId) ? personOf(world.setup, personId) : undefined;
      return person && !whyNotEligible(person, asked, world) ? [personId] : [];
    }),
  );
}

const REASONS: Readonly<Record<string, string>> = {
  person: "the rule names them",
  formerWithin: "had it last",
  credit: "the credit lies with them",
};

/** Points first, then whoever holds less, then the order of the group. */
function bestMatch(
  { world, lead }: Thinking,
  eligible: readonly Person[],
  chosen: (to: readonly Person[], reason: () => string) => Choice,
): Choice {
  const rated = eligible.map((person) => ({
    person,
    ...skillMatch(person, lead, world.setup),
    load: world.loads[person.id] ?? 0,
  }));
  const best = rated.reduce((a, b) =>
    b.points > a.points || (b.points === a.points && b.load < a.load) ? b : a,
  );
  return chosen(
    [best.person],
    () =>
      `the best match: ${best.because.join(", ") || "no skill is asked for"}; holds ${best.load} open leads`,
  );
}

/** Where a rotation stood and stands: `Mara 0 → −1, Idris 0 → 1`. */
function standings(setup: Setup, group: Group, { before, after }: RotationMove): string {
  const figure = (n = 0) => String(n).replace("-", "−");
  return group.members
    .map(({ personId: id }) => `${nameOf(setup, id)} ${figure(before[id])} → ${figure(after[id])}`)
    .join(", ");
}

/** Standby, or the manager's list; when somebody comes on duty later, routing is tried again then. */
function nobody(thinking: Thinking, reason: string, skipStandby: boolean): Decision {
  const { lead, world } = thinking;
  const { setup, now } = world;
  for (const id of skipStandby ? [] : setup.policies.standby) {
    const person = personOf(setup, id);
    if (!person) continue;
    const there = presence(person, now);
    const untold = whyUntold(setup, person, world.unset);
    const free = there.onDuty && !untold && !lead.refused.includes(id);
    thinking.note("standby", person.name, free, () =>
      free ? "on duty as standby" : there.onDuty ? (untold ?? "passed on it already") : there.because,
    );
    if (free) {
      const trace = thinking.done(() => `Given to ${person.name} on standby: ${reason}.`);
      return { kind: "standby", to: id, reason, trace };
    }
  }
  const retryAt = firstBack(thinking);
  const trace = thinking.done(() =>
    skipStandby
      ? `On the manager's list: ${reason}.`
      : `On the manager's list: ${reason}, and nobody is on standby.`,
  );
  return { kind: "list", reason, retryAt, trace };
}

/**
 * When to ask again: the first desk opening at which somebody who has not refused is on duty; null when that
 * would not help. Not as soon as the first early bird is there, who would get the whole night's leads.
 */
function firstBack({ candidates, lead, world }: Thinking): number | null {
  const { now, setup } = world;
  const times = [...candidates]
    .filter((p) => !lead.refused.includes(p.id) && !presence(p, now).onDuty)
    .flatMap((p) => nextOnDuty(p, now) ?? []);
  if (times.length === 0) return null;
  const first = Math.min(...times);
  return nextOpening(calendarAround(setup.policies.desk, first), first);
}
