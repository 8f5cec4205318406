import { planOf } from "../policy/cadence.ts";
import type { Policies, Setup } from "../policy/setup.ts";

/** One thing that was changed in the setup: what, and what it was and is. Null for what was or is not there. */
export interface Altered {
  readonly what: string;
  readonly before: unknown;
  readonly after: unknown;
}

const CALLED: Partial<Record<keyof Policies, string>> = {
  rules: "rules of routing",
  setAside: "what is settled before the rules",
  turns: "turns of rotations",
  passReasons: "reasons for passing",
  giveReasons: "reasons for giving a lead to somebody",
  reasons: "reasons for closing",
  questionSets: "what is asked to qualify a lead",
  worksheets: "how estimates are reckoned",
  hooks: "other systems that are told",
  desk: "desk hours",
  alertWords: "what alerts say",
  alerts: "who hears of what",
  teamChat: "the team's chat",
  completeness: "what makes a lead complete",
  sites: "the company’s own sites",
  privacy: "how long people’s data is kept",
};

/** Things that change on their own or are told apart elsewhere. */
const QUIET: ReadonlySet<string> = new Set(["version", "routing", "settled", "cadences"]);

/** What differs between two setups, in words and whole: for whoever asks later who changed what. */
export function alterations(before: Setup, after: Setup): Altered[] {
  const policies = (Object.keys(after.policies) as (keyof Policies)[])
    .filter((key) => !QUIET.has(key) && differs(before.policies[key], after.policies[key]))
    .map((key) => ({
      what: CALLED[key] ?? key,
      before: before.policies[key] ?? null,
      after: after.policies[key],
    }));
  return [
    ...policies,
    ...ofList(before.people, after.people, "person"),
    ...ofList(before.groups, after.groups, "group"),
    ...ofList(namedCadences(before), namedCadences(after), "cadence"),
    ...ofList(before.sources, after.sources, "source"),
  ];
}

const namedCadences = ({ policies }: Setup) => policies.cadences.map((c) => ({ ...c, name: planOf(c).name }));

/** What was never said and what is said to be nothing are the same. */
const differs = (a: unknown, b: unknown) =>
  a !== b && JSON.stringify(a ?? null) !== JSON.stringify(b ?? null);

interface Named {
  readonly id: string;
  readonly name: string;
}

function ofList(before: readonly Named[], after: readonly Named[], kind: string): Altered[] {
  const old = new Map(before.map((item) => [item.id, item]));
  const changed = after.flatMap((item) => {
    const was = old.get(item.id) ?? null;
    old.delete(item.id);
    return differs(was, item) ? [{ what: `${kind} ${item.name}`, ...fieldsThatDiffer(was, item) }] : [];
  });
  const gone = [...old.values()].map((item) => ({
    what: `${kind} ${item.name}`,
    before: item as unknown,
    after: null,
  }));
  return [...changed, ...gone];
}

/** Of something that was there before, only what differs. Secrets are never shown. */
function fieldsThatDiffer(was: Named | null, is: Named): { before: unknown; after: unknown } {
  const old = (was ?? {}) as Record<string, unknown>;
  const now = is as unknown as Record<string, unknown>;
  const keys = [...new Set([...Object.keys(old), ...Object.keys(now)])].filter((k) =>
    differs(old[k], now[k]),
  );
  const part = (from: Record<string, unknown>) =>
    Object.fromEntries(keys.map((k) => [k, /secret/i.test(k) ? "(not shown)" : (from[k] ?? null)]));
  return { before: was ? part(old) : null, after: part(now) };
}
