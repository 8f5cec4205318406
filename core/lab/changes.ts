import type { Rung } from "../policy/bells.ts";
import { GROUP_WAYS, type GroupWay, type Person } from "../policy/people.ts";
import type { RuleSet } from "../policy/routing.ts";
import { nameOf, type Policies, personOf, type Setup } from "../policy/setup.ts";
import { type Refused, refuse } from "../refusal.ts";
import { rulesProblem } from "../setup/change-routing.ts";
import type { DaySpan, Weekday } from "../time/calendar.ts";
import type { Behaviour, Habits } from "./habits.ts";

/** What a run of the lab goes by: the company's set-up, and how everybody acts. */
export interface LabWorld {
  readonly setup: Setup;
  readonly behaviour: Behaviour;
}

/** What each kind of change carries. Minutes are plain numbers, shares are 0 to 1. */
interface Carries {
  /** Other rules of routing: the draft as it was, or a version that was live once. */
  readonly rules: { readonly ruleSet: RuleSet; readonly of: "draft" | number };
  readonly offer: { readonly ruleId: string; readonly minutes: number };
  readonly way: { readonly groupId: string; readonly way: GroupWay };
  /** 0 takes them out of the group. */
  readonly weight: { readonly groupId: string; readonly personId: string; readonly weight: number };
  readonly target: { readonly targetId: string; readonly minutes: number };
  /** When a rung is climbed, as a fraction of the target; null leaves it out. `n` counts from 1. */
  readonly rung: { readonly ladderId: string; readonly n: number; readonly fraction: number | null };
  /** On these days somebody is there within these times and no others; without times they are not there. */
  readonly hours: {
    readonly personId: string;
    readonly days: readonly Weekday[];
    readonly span: DaySpan | null;
  };
  readonly desk: { readonly days: readonly Weekday[]; readonly span: DaySpan | null };
  /** Somebody more who works as they do and is in the same groups. */
  readonly more: { readonly like: string; readonly days: readonly Weekday[]; readonly span: DaySpan | null };
  readonly away: { readonly personId: string };
  readonly ceiling: { readonly personId: string; readonly open: number | null };
  readonly cadence: { readonly cadenceId: string; readonly run: "off" | "draft" };
  readonly reply: { readonly channel: "email" | "text"; readonly on: boolean; readonly delayMinutes: number };
  /** How one of ours acts, or all of them where nobody is named; what is null stays as the record has it. */
  readonly habits: {
    readonly personId: string | null;
    readonly takes: number | null;
    readonly passes: number | null;
    readonly answerMinutes: number | null;
    readonly handlingMinutes: number | null;
  };
  /** How well tries reach: so many times as often. */
  readonly reach: { readonly times: number };
}

export type LabChangeKind = keyof Carries;
export type LabChange = { readonly [K in LabChangeKind]: { readonly kind: K } & Carries[K] }[LabChangeKind];

/** A kind of change, whole: what it does to a world, and how it is said; null where what it names is not there. */
type ChangeKindOf<D> = {
  readonly apply: (world: LabWorld, data: D) => LabWorld | null;
  readonly said: (data: D, setup: Setup) => string;
};

const withPolicies = (world: LabWorld, policies: Partial<Policies>): LabWorld => ({
  ...world,
  setup: { ...world.setup, policies: { ...world.setup.policies, ...policies } },
});

/** A list with the one of that id changed; null where there is none. */
function changed<T extends { readonly id: string }>(
  list: readonly T[],
  id: string,
  change: (one: T) => T,
): readonly T[] | null {
  return list.some((one) => one.id === id) ? list.map((one) => (one.id === id ? change(one) : one)) : null;
}

const withPeople = (world: LabWorld, people: readonly Person[] | null): LabWorld | null =>
  people && { ...world, setup: { ...world.setup, people } };

const onDays = (hours: Person["hours"], days: readonly Weekday[], span: DaySpan | null): Person["hours"] => ({
  ...hours,
  week: { ...hours.week, ...Object.fromEntries(days.map((day) => [day, span ? [span] : []])) },
});

const DAYS = ["", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
const onSaid = (days: readonly Weekday[]) =>
  days.length === 7
    ? "every day"
    : [...days]
        .sort()
        .map((d) => DAYS[d])
        .join(", ");
const spanSaid = (span: DaySpan | null) => (span ? `${span[0]} to ${span[1]}` : "not there");
const minutes = (n: number) => `${n} ${n === 1 ? "minute" : "minutes"}`;
const percent = (share: number) => `${Math.round(share * 100)} %`;
const named = (list: readonly { id: string; name: string }[], id: string) =>
  list.find((one) => one.id === id)?.name ?? "something no longer here";
const MINUTE = 60_000;

const withHabits = (habits: Habits, data: Carries["habits"]): Habits => ({
  ...habits,
  takes: data.takes ?? habits.takes,
  // Whoever takes more passes less: the two are shares of the same offers.
  passes: Math.min(data.passes ?? habits.passes, 1 - (data.takes ?? habits.takes)),
  answersAfter: data.answerMinutes === null ? habits.answersAfter : [data.answerMinutes * MINUTE],
  handling: data.handlingMinutes === null ? habits.handling : data.handlingMinutes * MINUTE,
});

/** Everything that can be changed in the lab: one entry a kind. */
export const LAB_CHANGES: { readonly [K in LabChangeKind]: ChangeKindOf<Carries[K]> } = {
  rules: {
    apply: (world, { ruleSet }) => withPolicies(world, ruleSet),
    said: ({ of }) => (of === "draft" ? "The rules as drafted" : `The rules of version ${of}`),
  },
  offer: {
    apply: (world, data) => {
      const rules = changed(world.setup.policies.rules, data.ruleId, (r) => ({
        ...r,
        offerMinutes: data.minutes,
      }));
      return rules && withPolicies(world, { rules });
    },
    said: (data, { policies }) =>
      `“${named(policies.rules, data.ruleId)}” gives each ${minutes(data.minutes)} to take it`,
  },
  way: {
    apply: (world, { groupId, way }) => {
      const groups = changed(world.setup.groups, groupId, (g) => ({ ...g, way }));
      return groups && { ...world, setup: { ...world.setup, groups } };
    },
    said: ({ groupId, way }, { groups }) => `${named(groups, groupId)}: ${GROUP_WAYS[way]}`,
  },
  weight: {
    apply: (world, { groupId, personId, weight }) => {
      if (!personOf(world.setup, personId)) return null;
      const groups = changed(world.setup.groups, groupId, (g) => {
        const others = g.members.filter((m) => m.personId !== personId);
        return { ...g, members: weight > 0 ? [...others, { personId, weight }] : others };
      });
      return groups && { ...world, setup: { ...world.setup, groups } };
    },
    said: ({ groupId, personId, weight }, setup) =>
      weight > 0
        ? `${nameOf(setup, personId)} counts ${weight} in ${named(setup.groups, groupId)}`
        : `${nameOf(setup, personId)} is not in ${named(setup.groups, groupId)}`,
  },
  target: {
    apply: (world, data) => {
      const targets = changed(world.setup.policies.targets, data.targetId, (t) => ({
        ...t,
        minutes: data.minutes,
      }));
      return targets && withPolicies(world, { targets });
    },
    said: (data, { policies }) =>
      `Target “${named(policies.targets, data.targetId)}”: ${minutes(data.minutes)}`,
  },
  rung: {
    apply: (world, { ladderId, n, fraction }) => {
      const known = world.setup.policies.ladders.find((l) => l.id === ladderId)?.rungs[n - 1];
      if (!known || (fraction === null && known.act === "ring")) return null;
      const ladders = changed(world.setup.policies.ladders, ladderId, (l) => ({
        ...l,
        rungs: l.rungs.flatMap((rung, i): Rung[] => {
          if (i !== n - 1) return [rung];
          return fraction === null ? [] : [{ ...rung, fraction, plusMinutes: 0 }];
        }),
      }));
      return ladders && withPolicies(world, { ladders });
    },
    said: ({ ladderId, n, fraction }, { policies }) =>
      fraction === null
        ? `“${named(policies.ladders, ladderId)}” without rung ${n}`
        : `Rung ${n} of “${named(policies.ladders, ladderId)}” at ${percent(fraction)} of the target`,
  },
  hours: {
    apply: (world, { personId, days, span }) =>
      withPeople(
        world,
        changed(world.setup.people, personId, (p) => ({ ...p, hours: onDays(p.hours, days, span) })),
      ),
    said: ({ personId, days, span }, setup) =>
      `${nameOf(setup, personId)}, ${onSaid(days)}: ${spanSaid(span)}`,
  },
  desk: {
    apply: (world, { days, span }) =>
      withPolicies(world, { desk: onDays(world.setup.policies.desk, days, span) }),
    said: ({ days, span }) => `The desk, ${onSaid(days)}: ${span ? spanSaid(span) : "closed"}`,
  },
  more: {
    apply: (world, { like, days, span }) => {
      const model = personOf(world.setup, like);
      if (!model) return null;
      const { people, groups } = world.setup;
      const fresh = people.filter((p) => p.id.startsWith("more-")).length + 1;
      const id = `more-${fresh}`;
      // On the days that are named they work as said, on others not at all.
      const others = ([1, 2, 3, 4, 5, 6, 7] as const).filter((d) => !days.includes(d));
      const hours = onDays(span ? onDays(model.hours, days, span) : model.hours, others, null);
      const one = { ...model, id, name: `One more like ${model.name}`, hours, absences: [], offDuty: false };
      const own = world.behaviour.people.get(like);
      return {
        setup: {
          ...world.setup,
          people: [...people, one],
          groups: groups.map((g) => {
            const as = g.members.find((m) => m.personId === like);
            return as ? { ...g, members: [...g.members, { ...as, personId: id }] } : g;
          }),
        },
        behaviour: own
          ? { ...world.behaviour, people: new Map([...world.behaviour.people, [id, own]]) }
          : world.behaviour,
      };
    },
    said: ({ like, days, span }, setup) =>
      `One more like ${nameOf(setup, like)}, ${onSaid(days)}${span ? `, ${spanSaid(span)}` : ""}`,
  },
  away: {
    apply: (world, { personId }) =>
      withPeople(
        world,
        changed(world.setup.people, personId, (p) => ({ ...p, left: true as const })),
      ),
    said: ({ personId }, setup) => `Without ${nameOf(setup, personId)}`,
  },
  ceiling: {
    apply: (world, { personId, open }) =>
      withPeople(
        world,
        changed(world.setup.people, personId, (p) => ({ ...p, ceiling: open })),
      ),
    said: ({ personId, open }, setup) =>
      open === null
        ? `${nameOf(setup, personId)} may hold any number of open leads`
        : `${nameOf(setup, personId)} holds ${open} open leads at most`,
  },
  cadence: {
    apply: (world, { cadenceId, run }) => {
      const cadences = changed(world.setup.policies.cadences, cadenceId, (c) => ({
        ...c,
        live: run === "off" ? null : (c.draft ?? c.live),
      }));
      return cadences && withPolicies(world, { cadences });
    },
    said: ({ cadenceId, run }, { policies }) => {
      const cadence = policies.cadences.find((c) => c.id === cadenceId);
      const name = (cadence?.live ?? cadence?.draft)?.name ?? "something no longer here";
      return run === "off" ? `Without the cadence “${name}”` : `The cadence “${name}” as drafted`;
    },
  },
  reply: {
    apply: (world, { channel, on, delayMinutes }) => {
      const { replies } = world.setup.policies;
      const way = { ...replies.usual[channel], on, delayMinutes };
      const usual = { ...replies.usual, [channel]: way };
      return withPolicies(world, { replies: { ...replies, usual } });
    },
    said: ({ channel, on, delayMinutes }) =>
      on
        ? `First replies by ${channel} ${delayMinutes === 0 ? "at once" : `after ${minutes(delayMinutes)}`}`
        : `No first replies by ${channel}`,
  },
  habits: {
    apply: (world, data) => {
      const { behaviour } = world;
      const { personId } = data;
      if (personId === null) {
        const people = new Map([...behaviour.people].map(([id, h]) => [id, withHabits(h, data)] as const));
        return { ...world, behaviour: { ...behaviour, people, others: withHabits(behaviour.others, data) } };
      }
      if (!personOf(world.setup, personId)) return null;
      const own = withHabits(behaviour.people.get(personId) ?? behaviour.others, data);
      return {
        ...world,
        behaviour: { ...behaviour, people: new Map([...behaviour.people, [personId, own]]) },
      };
    },
    said: ({ personId, takes, passes, answerMinutes, handlingMinutes }, setup) => {
      const parts = [
        takes !== null && `takes ${percent(takes)} of offers`,
        passes !== null && `passes ${percent(passes)}`,
        answerMinutes !== null && `answers after ${minutes(answerMinutes)}`,
        handlingMinutes !== null && `needs ${minutes(handlingMinutes)} a try`,
      ].filter((part) => part !== false);
      return `${personId === null ? "Everybody" : nameOf(setup, personId)}: ${parts.join(", ") || "as the record has it"}`;
    },
  },
  reach: {
    apply: (world, { times }) => {
      const { leads } = world.behaviour;
      const reached = leads.reached.map((share) => Math.min(1, share * times));
      return { ...world, behaviour: { ...world.behaviour, leads: { ...leads, reached } } };
    },
    said: ({ times }) => `Tries reach ${times} times as often`,
  },
};

const kindOf = ({ kind }: LabChange) => LAB_CHANGES[kind] as ChangeKindOf<LabChange>;

/** A change as a sentence about a set-up. */
export const changeSaid = (change: LabChange, setup: Setup): string => kindOf(change).said(change, setup);

/** A world with changes made, one after the other; a refusal where one names what is not there. `side` is where they were asked. */
export function withChanges(
  world: LabWorld,
  changes: readonly LabChange[],
  side: "a" | "b",
): { readonly ok: true; readonly world: LabWorld } | Refused {
  let changedWorld = world;
  for (const [i, change] of changes.entries()) {
    const wrong = change.kind === "rules" ? rulesProblem(changedWorld.setup, change.ruleSet) : null;
    if (wrong)
      return refuse("unprocessable", 422, "These rules can't be run yet", wrong.message, `${side}.${i}`);
    const next = kindOf(change).apply(changedWorld, change);
    if (!next)
      return refuse(
        "unprocessable",
        422,
        "One of the changes can't be made",
        `“${changeSaid(change, changedWorld.setup)}” can't be made: what it changes is not there. Take it out.`,
        `${side}.${i}`,
      );
    changedWorld = next;
  }
  return { ok: true, world: changedWorld };
}

/** Nobody does anything: where only the set-up is asked about. */
const NO_BEHAVIOUR: Behaviour = {
  people: new Map(),
  others: { takes: 0, passes: 0, answersAfter: [0], answersWhileBusy: true, handling: 0 },
  leads: { reached: [0], won: 0 },
  outcomes: { reached: "", missed: "" },
};

/** A set-up with changes made; a refusal where one names what is not there. */
export function setupWith(
  setup: Setup,
  changes: readonly LabChange[],
  side: "a" | "b",
): { readonly ok: true; readonly setup: Setup } | Refused {
  const made = withChanges({ setup, behaviour: NO_BEHAVIOUR }, changes, side);
  return made.ok ? { ok: true, setup: made.world.setup } : made;
}

/** Which of the changes are rules of routing: these can become a draft, all others are made in Set-up by hand. */
export const isOfRules = ({ kind }: LabChange): boolean => kind === "rules" || kind === "offer";
