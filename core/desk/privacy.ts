import type { Actor } from "../lead/event.ts";
import { personOf } from "../policy/setup.ts";
import { refuse } from "../refusal.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { nobodyByThatId, noSuchLead } from "./refusals.ts";

/** Ask for a lead to be erased at `dueAt` (epoch ms): it is closed now, and nothing more happens to it meanwhile. */
export function askErase(world: World, actor: Actor, because: string, dueAt: number): Decided {
  const { lead } = world;
  if (!lead) return noSuchLead();
  if (actor.kind === "person" && !personOf(world.setup, actor.id)) return nobodyByThatId();
  if (lead.joinedTo)
    return refuse(
      "joined-to-another",
      409,
      "Joined to another lead",
      "It goes on as the lead it was joined to. Erase that one: this one goes with it.",
    );
  if (lead.erased) return refuse("erased-already", 409, "Erased already", "Nothing of them is left.");
  if (lead.erasing)
    return refuse(
      "asked-already",
      409,
      "Asked already",
      "They are to be erased already. Take that back first.",
    );
  const draft = new Draft(world, actor);
  for (const { messageId, ended } of lead.cadences) if (messageId && !ended) draft.recall(messageId);
  draft.add("erase-asked", { because: because.trim(), dueAt });
  return draft.done();
}

/** They are kept after all. Where it was open it is a manager's to give on, if nobody has it. */
export function dropErase(world: World, actor: Actor, reason: string): Decided {
  if (!world.lead) return noSuchLead();
  if (!world.lead.erasing)
    return refuse(
      "nobody-asked",
      409,
      "Nobody asked",
      "They are not to be erased: there is nothing to take back.",
    );
  return new Draft(world, actor).add("erase-dropped", { reason }).done();
}

/** Say on a lead whose events name nobody any more that it was erased. */
export function sayErased(world: World): Decided {
  if (!world.lead) return noSuchLead();
  return new Draft(world, { kind: "desk" }).add("erased", {}).done();
}
