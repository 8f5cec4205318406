import type { EventData } from "../lead/events.ts";
import { type Group, presence } from "../policy/people.ts";
import { personOf, type Setup } from "../policy/setup.ts";
import { type RotationState, takeTurn } from "../rotation/turns.ts";
import type { Loads } from "../routing/eligible.ts";
import { jainIndex } from "../statistics/jain.ts";

type Kind = "offered" | "taken" | "passed" | "lapsed" | "given" | "turn-credited";

/** What a report of shares reads of an event. */
export type ShareEvent = {
  [K in Kind]: { readonly leadId: string; readonly kind: K; readonly data: EventData[K] };
}[Kind];

export const SHARE_KINDS: readonly Kind[] = [
  "offered",
  "taken",
  "passed",
  "lapsed",
  "given",
  "turn-credited",
];

export interface PersonShare {
  readonly personId: string;
  readonly offered: number;
  readonly taken: number;
  readonly passed: number;
  readonly lapsed: number;
  /** Turns given back: for passing where that is the policy, or for a lead that was none. */
  readonly credited: number;
  readonly openNow: number;
  /** How many offers would have been theirs, had each been split among those who could have it then. */
  readonly wanted: number;
}

export interface GroupShare {
  readonly groupId: string;
  readonly people: readonly PersonShare[];
  readonly offered: number;
  /** How evenly what each got fits what was wanted for them; null when nothing was offered. */
  readonly jain: number | null;
  /** Whose turn it is, were a lead to come now, and why; null when nobody is there or the group has no turns. */
  readonly next: { readonly personId: string; readonly reason: string } | null;
}

type Counts = { -readonly [K in keyof PersonShare]: PersonShare[K] };

/**
 * How hand-offs really fell out, per group and person, over the events of a span in the order they happened. What was
 * wanted comes from the turns themselves: each turn gave every person who could have it then their part of one offer,
 * so that whoever was away, or full, was owed nothing.
 */
export function fairShare(
  events: Iterable<ShareEvent>,
  setup: Setup,
  now: {
    readonly at: number;
    readonly loads: Loads;
    readonly rotations: Readonly<Record<string, RotationState>>;
  },
): GroupShare[] {
  const groups = new Map(
    setup.groups.map((g) => [g.id, { group: g, people: new Map<string, Counts>(), offered: 0 }]),
  );
  const countsOf = (groupId: string | undefined, personId: string): Counts | null => {
    const known = groupId === undefined ? undefined : groups.get(groupId);
    if (!known) return null;
    const counts = known.people.get(personId) ?? blank(personId, now.loads);
    known.people.set(personId, counts);
    return counts;
  };
  for (const { group } of groups.values())
    for (const { personId } of group.members) countsOf(group.id, personId);
  const offeredBy = new Map<string, string>();
  for (const { leadId, kind, data } of events) {
    if (kind === "offered") {
      const known = data.groupId ? groups.get(data.groupId) : undefined;
      if (!known || !data.groupId) {
        offeredBy.delete(leadId);
        continue;
      }
      offeredBy.set(leadId, data.groupId);
      known.offered++;
      for (const id of data.to) countsOf(data.groupId, id)!.offered++;
      for (const [id, part] of partsOf(data, known.group)) {
        const counts = countsOf(data.groupId, id)!;
        counts.wanted += part;
      }
      continue;
    }
    const groupId = kind === "turn-credited" ? data.groupId : offeredBy.get(leadId);
    if (kind === "taken") add(countsOf(groupId, data.personId), "taken");
    if (kind === "passed") {
      add(countsOf(groupId, data.personId), "passed");
      if (data.turnBack) add(countsOf(groupId, data.personId), "credited");
    }
    if (kind === "lapsed")
      for (const id of data.to) {
        add(countsOf(groupId, id), "lapsed");
        if (data.turnBack) add(countsOf(groupId, id), "credited");
      }
    if (kind === "turn-credited") add(countsOf(groupId, data.personId), "credited");
  }
  return [...groups.values()].map(({ group, people, offered }) => {
    const list = [...people.values()].sort((a, b) => b.offered - a.offered);
    const owed = list.filter((p) => p.wanted > 0);
    return {
      groupId: group.id,
      people: list,
      offered,
      jain: offered > 0 ? jainIndex(owed.map((p) => p.offered / p.wanted)) : null,
      next: nextInTurn(group, setup, now),
    };
  });
}

function blank(personId: string, loads: Loads): Counts {
  return {
    personId,
    offered: 0,
    taken: 0,
    passed: 0,
    lapsed: 0,
    credited: 0,
    openNow: loads[personId] ?? 0,
    wanted: 0,
  };
}

function add(counts: Counts | null, key: "taken" | "passed" | "lapsed" | "credited"): void {
  if (counts) counts[key]++;
}

/** Each person's part of one offer: by the turn it cost, else by weight among those asked. */
function partsOf({ turn, to }: EventData["offered"], group: Group): [string, number][] {
  if (!turn) return to.map((id) => [id, 1 / to.length]);
  const gains = Object.entries(turn.gains);
  const paid = gains.reduce((sum, [, gain]) => sum + gain, 0);
  return gains.flatMap(([id, gain]): [string, number][] =>
    group.members.some((m) => m.personId === id) ? [[id, gain / paid]] : [],
  );
}

function nextInTurn(
  group: Group,
  setup: Setup,
  { at, loads, rotations }: { at: number; loads: Loads; rotations: Readonly<Record<string, RotationState>> },
): GroupShare["next"] {
  if (group.way !== "rotation" && group.way !== "weighted") return null;
  const there = group.members.flatMap(({ personId }) => {
    const person = personOf(setup, personId);
    const full = person?.ceiling != null && (loads[personId] ?? 0) >= person.ceiling;
    return person && presence(person, at).onDuty && !full ? [personId] : [];
  });
  const before = rotations[group.id] ?? {};
  const move = takeTurn(group, new Set(there), before, group.way === "rotation");
  if (!move) return null;
  const rest = group.members.length - there.length;
  return {
    personId: move.turn.personId,
    reason: `stands at ${(before[move.turn.personId] ?? 0).toString().replace("-", "−")}, the highest of ${there.length} who are there${rest > 0 ? `; ${rest} are away or full` : ""}`,
  };
}
