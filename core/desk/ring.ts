import { presence } from "../policy/people.ts";
import { personOf } from "../policy/policy.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { tell, tellManagers } from "./tell.ts";

/** The next rung of the bell's ladder is due: nudge, ring, or give to standby. Each rung is climbed once. */
export function climb(world: World): Decided {
  const draft = new Draft(world, { kind: "desk" });
  const lead = world.lead;
  const rung = lead?.bell && lead.bell.state !== "answered" ? lead.bell.rungs[lead.bell.climbed] : undefined;
  if (!lead?.bell || lead.closed || !rung || rung.at > world.now) return draft.done();
  const { dueAt } = lead.bell;
  switch (rung.act) {
    case "nudge": {
      const to = lead.ownerId ? [lead.ownerId] : (lead.handOff?.to ?? []);
      draft.add("nudged", { to, dueAt });
      tell(draft, to, "nudge");
      break;
    }
    case "ring":
      draft.add("rang", { dueAt, late: world.now - rung.at });
      tellManagers(draft, "ring");
      break;
    case "standby":
      standBy(draft);
  }
  return draft.done();
}

function standBy(draft: Draft): void {
  const { setup, now } = draft.world;
  const former = draft.lead.ownerId;
  const to = setup.policies.standby.find((id) => {
    const person = personOf(setup, id);
    return person && id !== former && presence(person, now).onDuty;
  });
  draft.add("stood-by", { to: to ?? null });
  const reason = "nobody called after the bell";
  if (to) {
    const offered = draft.lead.handOff?.to ?? [];
    draft.add("given", { to, reason, from: former, standby: true });
    tell(draft, [to], "standby");
    tell(
      draft,
      [...new Set([former, ...offered])].filter((id): id is string => !!id && id !== to),
      "gone",
    );
  }
  draft.add("listed", { reason: to ? reason : `${reason}, and nobody is on standby`, retryAt: null });
  tellManagers(draft, "listed");
}
