import type { LeadEvent } from "../lead/events.ts";
import type { Person } from "../policy/people.ts";
import { nameOf, personOf, type Setup } from "../policy/setup.ts";
import { refuse } from "../refusal.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { nobodyByThatId, noSuchLead } from "./refusals.ts";
import { tell } from "./tell.ts";

/** Write a note on the lead, for colleagues; whoever is named with `@` hears of it, and with `asks` is asked until one answers. */
export function addNote(world: World, by: string, text: string, asks = false): Decided {
  const lead = world.lead;
  if (!lead) return noSuchLead();
  const written = text.trim();
  if (!written)
    return refuse(
      "nothing-written",
      422,
      "Nothing written",
      "Write something before saving the note.",
      "text",
    );
  const mentions = mentionsIn(world.setup, written).filter((id) => id !== by);
  if (asks && mentions.length === 0)
    return refuse(
      "nobody-is-asked",
      422,
      "Nobody is asked",
      "Name whom you ask, with @ and their name.",
      "text",
    );
  const draft = new Draft(world, { kind: "person", id: by });
  draft.add("noted", {
    text: written,
    ...(mentions.length > 0 && { mentions }),
    ...(asks && { asks: true as const }),
  });
  tell(
    draft,
    mentions,
    "mentioned",
    asks ? { heading: `${nameOf(world.setup, by)} asks: ${short(written)}` } : {},
  );
  return draft.done();
}

const short = (text: string) => (text.length > 120 ? `${text.slice(0, 119)}…` : text).replace(/\s+/g, " ");

/** Mend a note of one's own; what it said before stands in the events. */
export function editNote(
  world: World,
  by: string,
  noteId: string,
  text: string,
  history: readonly LeadEvent[],
): Decided {
  if (!world.lead) return noSuchLead();
  const note = history.find((e) => e.id === noteId && e.kind === "noted");
  if (!note)
    return refuse("no-such-note", 404, "No such note", "There is no note with that id on this lead.");
  if (note.actor.kind !== "person" || note.actor.id !== by)
    return refuse(
      "not-yours-to-mend",
      409,
      "Not yours to mend",
      "Only whoever wrote a note mends it. Write another.",
    );
  const written = text.trim();
  if (!written)
    return refuse(
      "nothing-written",
      422,
      "Nothing written",
      "A note says something. Write what it says.",
      "text",
    );
  const draft = new Draft(world, { kind: "person", id: by });
  const before = mentionsIn(world.setup, noteText(note.id, history) ?? "");
  draft.add("note-edited", { noteId, text: written });
  // Who is named only now hears of it now.
  tell(
    draft,
    mentionsIn(world.setup, written).filter((id) => id !== by && !before.includes(id)),
    "mentioned",
  );
  return draft.done();
}

/** What a note says now: as it was last mended. Null when there is no such note. */
export function noteText(noteId: string, history: readonly LeadEvent[]): string | null {
  let text: string | null = null;
  for (const event of history) {
    if (event.kind === "noted" && event.id === noteId) text = event.data.text;
    if (event.kind === "note-edited" && event.data.noteId === noteId) text = event.data.text;
  }
  return text;
}

/** Answer what a colleague asked in a note, or say with an empty text that it needs no answer: only who asked may. */
export function answerColleague(world: World, by: string, noteId: string, text: string): Decided {
  if (!world.lead) return noSuchLead();
  if (!personOf(world.setup, by)) return nobodyByThatId();
  const asked = world.lead.asked.find((a) => a.noteId === noteId);
  if (!asked)
    return refuse("answered-already", 409, "Answered already", "Nothing is asked any more in that note.");
  const draft = new Draft(world, { kind: "person", id: by });
  const written = text.trim();
  if (written) {
    draft.add("question-answered", { noteId, text: written, askedBy: asked.by, question: asked.text });
    if (asked.by !== by)
      tell(draft, [asked.by], "mentioned", {
        heading: `${nameOf(world.setup, by)} answers: ${short(written)}`,
      });
  } else if (asked.by === by) draft.add("question-dropped", { noteId, to: asked.to });
  else return refuse("nothing-written", 422, "Nothing written", "Write the answer.", "text");
  return draft.done();
}

const plain = (s: string) => s.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();

/** Who is named in a note: `@` and the whole name, or its first word where only one person has it; a group by its name. */
export function mentionsIn(
  { people, groups }: Pick<Setup, "people" | "groups">,
  text: string,
): readonly string[] {
  const said = plain(text);
  const named = (name: string) =>
    new RegExp(`(^|[^\\w@])@${name.replace(/[.*+?^${}()|[\]\\]/g, "\\$&")}(?![\\w-])`).test(said);
  const firstOf = ({ name }: Person) => plain(name).split(" ")[0]!;
  const here = people.filter((p) => !p.left);
  const single = here.filter(
    (p) =>
      named(plain(p.name)) ||
      (named(firstOf(p)) && here.filter((other) => firstOf(other) === firstOf(p)).length === 1),
  );
  const ofGroups = groups
    .filter((g) => named(plain(g.name)))
    .flatMap((g) => g.members.map((m) => m.personId))
    .filter((id) => here.some((p) => p.id === id));
  return [...new Set([...single.map((p) => p.id), ...ofGroups])];
}
