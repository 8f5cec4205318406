import { WEIGHTS } from "../contact/likely.ts";
import type { Actor, Trace } from "../lead/event.ts";
import type { InquiryFacts } from "../lead/inquiry.ts";
import type { MaybeSame } from "../lead/lead.ts";
import { usualLanguage } from "../policy/company.ts";
import { personOf } from "../policy/setup.ts";
import type { Source } from "../policy/source.ts";
import { refuse } from "../refusal.ts";
import { staysWith } from "../routing/set-aside.ts";
import { askedToBeCalled, startBell } from "./bells.ts";
import { routeOn } from "./hand-off.ts";
import { wake } from "./park.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { firstReply } from "./send.ts";
import { tell } from "./tell.ts";

/** An inquiry that has been stored and understood, and how it was matched to the world's lead. */
export interface Inquiry {
  readonly inquiryId: string;
  readonly source: Source;
  readonly facts: InquiryFacts;
  /** What the sure match was found by; null when the lead is new. */
  readonly matchedOn: string | null;
  readonly by: Actor;
  /** Where it goes: by the rules, to one person at once, or nowhere yet. */
  readonly goesTo:
    | { readonly kind: "rules" }
    | { readonly kind: "person"; readonly id: string }
    | { readonly kind: "list" }
    /** Kept without a bell, a reply or an owner: a list loaded in without routing. */
    | { readonly kind: "kept" };
  /** Leads that may be the same person, found beside no sure match. */
  readonly likely?: readonly MaybeSame[];
  /** Somebody of ours tries whether everything works: offered to that person alone, or to whom the rules say (null). */
  readonly test?: { readonly only: string | null };
  /** Why no automatic reply goes out, when none does: a machine wrote. */
  readonly unanswered?: string | null;
  /**
   * What somebody of ours wrote down who may not see the lead it belongs to: kept there as a note. The inquiry itself then
   * says nothing, and changes nothing that is known.
   */
  readonly unseen?: string;
}

/** An inquiry arrives: attach it to its lead, answer on its own, start the bell, find somebody. */
export function receive(world: World, inquiry: Inquiry): Decided {
  const { goesTo, source } = inquiry;
  if (goesTo.kind === "person" && !personOf(world.setup, goesTo.id))
    return refuse(
      "nobody-by-that-id",
      422,
      "Nobody by that id",
      "`ownerId` names nobody who works here.",
      "ownerId",
    );
  const draft = new Draft(world, { kind: "desk" });
  // Whoever is new and says nothing of it is written to in the company's usual language.
  const facts =
    world.lead || inquiry.facts.language
      ? inquiry.facts
      : { ...inquiry.facts, language: usualLanguage(world.setup.policies.company) };
  draft.add(
    "inquiry",
    {
      inquiryId: inquiry.inquiryId,
      sourceId: source.id,
      channel: source.channel,
      facts,
      match: world.lead ? "sure" : "new",
      on: inquiry.matchedOn,
      mapping: source.mapping.version,
      ...(inquiry.test && { test: true as const, ...(inquiry.test.only && { tester: inquiry.test.only }) }),
      ...(goesTo.kind === "kept" && { kept: true as const }),
    },
    // Of a list that is only kept nothing was decided that anybody could ask about.
    { actor: inquiry.by, ...(goesTo.kind !== "kept" && { why: matchTrace(world, inquiry) }) },
  );
  if (inquiry.unseen !== undefined) draft.add("noted", { text: inquiry.unseen }, { actor: inquiry.by });
  proposeLikely(draft, inquiry);
  if (goesTo.kind === "kept") return draft.done();
  const wasClosed = draft.lead.closed !== null;
  if (wasClosed) draft.add("reopened", {});
  if (!inquiry.unanswered) firstReply(draft, source, inquiry.inquiryId);
  startBell(draft);
  askedToBeCalled(draft, inquiry.facts.callWhen);
  if (!wake(draft, "form")) findSomebody(draft, inquiry, wasClosed);
  return draft.done();
}

/** Leads that may be the same person are proposed with their reasons, and never joined on their own. */
function proposeLikely(draft: Draft, { likely }: Inquiry): void {
  const of = (likely ?? []).filter(
    (m) => m.leadId !== draft.leadId && !draft.lead.notSame.includes(m.leadId),
  );
  if (of.length === 0) return;
  const steps = of.flatMap(({ evidence }) =>
    evidence.map((e) => ({
      kind: "match" as const,
      name: e.about,
      result: e.points > 0 ? ("yes" as const) : ("no" as const),
      reason: `${e.said} (${e.points > 0 ? "+" : ""}${e.points})`,
    })),
  );
  const outcome = `${of[0]!.points} points; ${WEIGHTS.likely} are enough to ask whether they are one person.`;
  draft.add("maybe-same", { of }, { why: { outcome, steps } });
}

function matchTrace(world: World, inquiry: Inquiry): Trace {
  const known = world.lead;
  const reason = inquiry.matchedOn
    ? `the same ${inquiry.matchedOn}`
    : "no lead has this phone number or mail address";
  return {
    outcome: known ? `Joined to the lead ${known.name ?? known.id}: ${reason}.` : "A new lead.",
    steps: [{ kind: "match", name: "Known already", result: known ? "yes" : "no", reason }],
  };
}

function findSomebody(draft: Draft, { goesTo, by }: Inquiry, wasClosed: boolean): void {
  const { lead } = draft;
  const { setup } = draft.world;
  const keeper = staysWith(lead, wasClosed, setup);
  if (keeper) {
    tell(draft, [keeper], "again");
  } else if (goesTo.kind === "person") {
    draft.add("given", { to: goesTo.id, reason: "chosen at entry", from: null }, { actor: by });
    if (by.kind !== "person" || by.id !== goesTo.id) tell(draft, [goesTo.id], "given");
  } else if (goesTo.kind === "list") {
    draft.add("listed", { reason: "entered without routing", retryAt: null }, { actor: by });
  } else if (!lead.handOff || lead.handOff.state === "taken") {
    routeOn(draft);
  }
}
