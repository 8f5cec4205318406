import { inWords } from "../condition/condition.ts";
import type { Names } from "../condition/tree.ts";
import { GROUP_WAYS, type GroupWay } from "../policy/people.ts";
import type { Rule } from "../policy/routing.ts";

/** Whom and what a rule's sentence names. */
export interface WhoIsWho {
  readonly people: readonly { readonly id: string; readonly name: string }[];
  readonly groups: readonly { readonly id: string; readonly name: string; readonly way: GroupWay }[];
  readonly names: Names;
}

const OTHERWISE = {
  standby: "then whoever is on standby",
  list: "then the manager’s list",
  onward: "then the next rules are asked",
} as const;

/** A rule read like a sentence: `When product is Lodge package, offer to Lodges by strict rotation, 3 min each, then …`. */
export function ruleSentence(known: WhoIsWho, { when, to, offerMinutes, clock, otherwise }: Rule): string {
  const head = when ? `When ${inWords(when, known.names)}, offer` : "Offer every lead";
  const each = `${offerMinutes} ${clock === "wall" ? "plain " : ""}min${"group" in to ? " each" : ""}`;
  return `${head} to ${targetWords(known, to)}, ${each}, ${OTHERWISE[otherwise ?? "standby"]}.`;
}

function targetWords({ people, groups }: WhoIsWho, to: Rule["to"]): string {
  if ("person" in to) return people.find((p) => p.id === to.person)?.name ?? "somebody no longer here";
  if ("credit" in to) return "whoever has the credit";
  if ("formerWithin" in to) return `whoever had it within the last ${to.formerWithin} days`;
  const group = groups.find((g) => g.id === to.group);
  return group ? `${group.name} by ${GROUP_WAYS[to.way ?? group.way]}` : "a group that is gone";
}
