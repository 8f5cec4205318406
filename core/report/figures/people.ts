import type { Setup } from "../../policy/setup.ts";
import { type Limits, limitsOf } from "../../statistics/funnel.ts";
import type { Account, OfferAccount } from "../account.ts";
import { STRATA, stratumOf } from "./effort.ts";
import { inTargetOf, type ShareTold, shareOf } from "./response.ts";
import { grouped, isAnswerable, type Span } from "./span.ts";

/** What was counted of somebody, against what could be expected of anybody who had been given the same. */
export interface Against extends Limits {
  readonly count: number;
  /** Of so many it could be told. */
  readonly of: number;
  /** How it lies to what chance alone leaves likely. */
  readonly stands:
    | "as expected"
    | "more than expected"
    | "fewer than expected"
    | "more, hardly by chance"
    | "fewer, hardly by chance";
}

export interface MemberTold {
  readonly key: string;
  readonly name: string;
  readonly given: number;
  readonly asked: number;
  readonly took: ShareTold;
  readonly inTarget: Against;
  readonly reached: Against;
  readonly won: Against;
  /** Open leads now, and how many they may have at most. */
  readonly open: number | null;
  readonly ceiling: number | null;
}

export interface PeopleTold {
  readonly people: readonly MemberTold[];
  readonly groups: readonly MemberTold[];
  readonly strata: string;
}

/** Fewer leads than this in a stratum say nothing of it: they are told by all. */
const LEAST = 8;

/**
 * What each was given and what came of it, against what could be expected from leads like theirs (source, product and time of
 * day), with the limits of chance: inside of them nobody is better or worse than another. `openOf` gives open leads now. Never
 * throws.
 */
export function tellPeople(
  all: readonly Account[],
  offers: readonly OfferAccount[],
  won: (account: Account) => boolean,
  openOf: (personId: string) => number,
  span: Span,
  setup: Setup,
): PeopleTold {
  const accounts = all.filter(isAnswerable);
  const { zone } = setup.policies.desk;
  const strata = new Map(accounts.map((a) => [a, stratumOf(a, zone)]));
  const outcomes = {
    inTarget: outcome(strata, (a) => inTargetOf(a, span.now)),
    reached: outcome(strata, (a) => a.talkedAt !== null),
    won: outcome(strata, won),
  };
  const tell = (key: string, name: string, some: readonly Account[], asks: readonly OfferAccount[]) => ({
    key,
    name,
    given: some.length,
    asked: asks.length,
    took: shareOf(asks.map((o) => (o.how === null || o.how === "gone" ? null : o.how === "took"))),
    inTarget: outcomes.inTarget(some),
    reached: outcomes.reached(some),
    won: outcomes.won(some),
    open: null,
    ceiling: null,
  });
  const given = new Map(grouped(accounts, (a) => a.person));
  const asked = new Map(grouped(offers, (o) => o.person));
  const sellers = setup.people.filter(
    (p) => (p.role === "salesperson" && !p.left) || given.has(p.id) || asked.has(p.id),
  );
  const byGroup = new Map(grouped(accounts, (a) => a.groupId));
  return {
    people: sellers.map((p) => ({
      ...tell(p.id, p.name, given.get(p.id) ?? [], asked.get(p.id) ?? []),
      open: openOf(p.id),
      ceiling: p.ceiling,
    })),
    groups: setup.groups.map((g) => {
      const members = new Set(g.members.map((m) => m.personId));
      return tell(
        g.id,
        g.name,
        byGroup.get(g.id) ?? [],
        offers.filter((o) => members.has(o.person)),
      );
    }),
    strata: STRATA,
  };
}

/** How somebody's leads came to something, against all leads of the same strata. */
function outcome(strata: ReadonlyMap<Account, string>, came: (account: Account) => boolean | null) {
  const chance = new Map<string, { n: number; hits: number }>();
  const whole = { n: 0, hits: 0 };
  const judged = new Map<Account, boolean>();
  for (const [account, key] of strata) {
    const hit = came(account);
    if (hit === null) continue;
    judged.set(account, hit);
    const stratum = chance.get(key) ?? { n: 0, hits: 0 };
    chance.set(key, stratum);
    for (const one of [stratum, whole]) {
      one.n++;
      if (hit) one.hits++;
    }
  }
  return (some: readonly Account[]): Against => {
    const told = some.filter((a) => judged.has(a));
    const count = told.filter((a) => judged.get(a)).length;
    const limits = limitsOf(
      told.map((a) => {
        const stratum = chance.get(strata.get(a)!)!;
        const { n, hits } = stratum.n < LEAST ? whole : stratum;
        return hits / n;
      }),
    );
    return { ...limits, count, of: told.length, stands: standsAt(count, limits) };
  };
}

function standsAt(count: number, { low95, high95, low998, high998 }: Limits): Against["stands"] {
  if (count < low998) return "fewer, hardly by chance";
  if (count > high998) return "more, hardly by chance";
  if (count < low95) return "fewer than expected";
  if (count > high95) return "more than expected";
  return "as expected";
}
