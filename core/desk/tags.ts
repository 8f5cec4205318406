import { personOf } from "../policy/setup.ts";
import { refuse } from "../refusal.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { nobodyByThatId, noSuchLead } from "./refusals.ts";

/** So long is a tag at most (characters), and so many has a lead. */
const LONGEST = 60;
const MOST = 50;

/** Put tags on a lead and take others off; letters as tags are kept. Refused where it changes nothing. */
export function tag(
  world: World,
  by: string,
  { on = [], off = [] }: { readonly on?: readonly string[]; readonly off?: readonly string[] },
): Decided {
  const { lead } = world;
  if (!lead) return noSuchLead();
  if (!personOf(world.setup, by)) return nobodyByThatId();
  const plain = (tags: readonly string[]) => [
    ...new Set(tags.map((t) => t.trim().toLowerCase().slice(0, LONGEST)).filter(Boolean)),
  ];
  const change = {
    on: plain(on).filter((t) => !lead.tags.includes(t)),
    off: plain(off).filter((t) => lead.tags.includes(t)),
  };
  if (change.on.length + change.off.length === 0)
    return refuse("nothing-changes", 409, "Nothing changes", "Its tags are so already.", "tags");
  if (lead.tags.length + change.on.length - change.off.length > MOST)
    return refuse("too-many-tags", 409, "Too many tags", `A lead has ${MOST} tags at most.`, "tags");
  return new Draft(world, { kind: "person", id: by }).add("tagged", change).done();
}
