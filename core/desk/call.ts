import type { EventData } from "../lead/events.ts";
import { personOf } from "../policy/setup.ts";
import { routeOn } from "./hand-off.ts";
import { wake } from "./park.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { noSuchLead } from "./refusals.ts";
import { tell, tellManagers } from "./tell.ts";

export type Call = EventData["called-in"];

/**
 * A call on one of our lines has ended. One nobody answered puts a call-back on top of the queue, as the next
 * step, and whoever has the lead hears of it; one that was answered is the contact the bell waits for.
 */
export function calledIn(world: World, call: Call): Decided {
  if (!world.lead) return noSuchLead();
  const draft = new Draft(world, { kind: "lead" });
  if (draft.lead.closed) draft.add("reopened", {}, { actor: { kind: "desk" } });
  draft.add("called-in", call);
  if (call.result === "answered") {
    const owner = personOf(world.setup, call.personId);
    // A salesperson who picked it up has it, unless it is somebody's already; a coordinator hands it on.
    if (draft.lead.parked && owner?.role !== "salesperson") wake(draft, "call");
    else if (owner?.role === "salesperson" && !draft.lead.ownerId)
      draft.add("taken", { personId: owner.id }, { actor: { kind: "person", id: owner.id } });
    else if (!draft.lead.ownerId && !draft.lead.handOff && !draft.lead.listed) routeOn(draft);
    return draft.done();
  }
  const { lead } = draft;
  const step = { kind: "call" as const, dueAt: world.now, note: "Call back", personId: lead.ownerId };
  const woke = wake(draft, "call");
  draft.add("next-step", { step }, { actor: { kind: "desk" } });
  if (woke) return draft.done();
  if (lead.ownerId) tell(draft, [lead.ownerId], "call-back");
  else if (lead.handOff) tell(draft, lead.handOff.to, "call-back");
  else if (lead.listed) tellManagers(draft, "call-back");
  else routeOn(draft);
  return draft.done();
}
