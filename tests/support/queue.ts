import type { Demand } from "../../core/lab/demand.ts";
import type { Behaviour } from "../../core/lab/habits.ts";
import type { Person } from "../../core/policy/people.ts";
import type { Setup } from "../../core/policy/setup.ts";
import { tarnholt } from "../../demo/tarnholt.ts";

const FACTS = {
  name: null,
  emails: [],
  phones: [],
  company: null,
  product: null,
  value: null,
  message: null,
  postalCode: null,
  territory: null,
  zone: "America/Denver",
  language: null,
  answers: {},
  tags: [],
} as const;
/** So many an hour, at all times. */
export const demand = (perHour: number): Demand => ({
  perHour: Array.from({ length: 168 }, () => perHour),
  zone: "America/Denver",
  growth: 0,
  bursts: [],
  like: [{ sourceId: tarnholt.sources[0]!.id, facts: FACTS }],
});

/** A desk that is a plain queue: so many alike, always there, whoever is free takes the next, and nothing else ever happens. */
export function queueOf(agents: number): { setup: Setup; behaviour: Behaviour } {
  const always = {
    zone: "America/Denver",
    week: Object.fromEntries([1, 2, 3, 4, 5, 6, 7].map((d) => [d, [["00:00", "24:00"]]])) as never,
  };
  const people = Array.from(
    { length: agents },
    (_, i): Person => ({
      ...tarnholt.people.find((p) => p.id === "p_mara")!,
      id: `agent_${i}`,
      name: `Agent ${i}`,
      hours: always,
      absences: [],
      products: null,
      territories: null,
      ceiling: null,
      perDay: null,
    }),
  );
  const { policies, groups } = tarnholt;
  const setup: Setup = {
    ...tarnholt,
    people,
    groups: [
      {
        ...groups[0]!,
        id: "all",
        way: "open-call",
        members: people.map((p) => ({ personId: p.id, weight: 1 })),
      },
    ],
    policies: {
      ...policies,
      desk: always,
      holidays: null,
      rules: [{ id: "r", name: "All", when: null, to: { group: "all" }, offerMinutes: 1e6, clock: "wall" }],
      targets: [],
      cadences: [],
      wakes: [],
      standby: [],
      outcomes: policies.outcomes.map((o) => ({ ...o, next: null })),
      replies: { ...policies.replies, on: false } as never,
    },
  };
  const reached = policies.outcomes.find((o) => o.reached)!.key;
  const missed = policies.outcomes.find((o) => !o.reached)!.key;
  return {
    setup,
    behaviour: {
      people: new Map(),
      others: { takes: 1, passes: 0, answersAfter: [0], answersWhileBusy: false, handling: 6 * 60_000 },
      leads: { reached: [1], won: 0.2 },
      outcomes: { reached, missed },
    },
  };
}
