import type { Group } from "../policy/people.ts";

/**
 * Where a rotation stands: each member's running credit. Absent members keep theirs, so whoever comes back
 * neither gets a flood nor loses a turn; whoever joins begins at nothing, in the middle of the field.
 */
export type RotationState = Readonly<Record<string, number>>;

/** One turn: what each who could have it gained, and who had it and paid for all of them. */
export interface TurnTaken {
  readonly groupId: string;
  readonly personId: string;
  readonly gains: RotationState;
}

/** How a rotation moves: by a turn that is taken, or one that is given back. */
export interface RotationMove {
  readonly groupId: string;
  readonly before: RotationState;
  readonly after: RotationState;
}

/**
 * Smooth weighted round robin over those who can have it (source: nginx's upstream balancer): everybody
 * gains their weight, the highest goes, and pays the sum of the weights. Equal weights take strict turns;
 * `strict` counts every weight as one. Whoever is in `waiting` gains as if they could have it, and is not chosen: they
 * gave back the turn this very lead would have cost them. Null when nobody can have it.
 */
export function takeTurn(
  group: Group,
  eligible: ReadonlySet<string>,
  before: RotationState,
  strict = false,
  waiting: ReadonlySet<string> = NOBODY,
): (RotationMove & { readonly turn: TurnTaken }) | null {
  const gains: Record<string, number> = {};
  let chosen: string | null = null;
  const standing = (id: string) => (before[id] ?? 0) + gains[id]!;
  for (const { personId, weight } of group.members) {
    const can = eligible.has(personId);
    if (weight <= 0 || !(can || waiting.has(personId))) continue;
    gains[personId] = strict ? 1 : weight;
    if (!can) continue;
    if (chosen === null || standing(personId) > standing(chosen)) chosen = personId;
  }
  if (chosen === null) return null;
  const turn = { groupId: group.id, personId: chosen, gains };
  return { groupId: group.id, turn, before, after: afterTurn(turn, before) };
}

const NOBODY: ReadonlySet<string> = new Set();

/** Where a rotation stands after a turn; `times` −1 takes it back. */
export function afterTurn(
  { personId, gains }: TurnTaken,
  before: RotationState,
  times: 1 | -1 = 1,
): RotationState {
  const after: Record<string, number> = { ...before };
  let paid = 0;
  for (const id in gains) {
    paid += gains[id]!;
    after[id] = (after[id] ?? 0) + times * gains[id]!;
  }
  after[personId] = (after[personId] ?? 0) - times * paid;
  return after;
}

/**
 * A turn that came to nothing never was: whoever had it gets back what they paid, and the others give back what they
 * gained. So nothing is added to the rotation, and whoever is away meanwhile stands no worse when they come back.
 */
export function giveBack(turn: TurnTaken, before: RotationState): RotationMove {
  return { groupId: turn.groupId, before, after: afterTurn(turn, before, -1) };
}
