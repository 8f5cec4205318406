import type { EventData } from "../lead/events.ts";
import { ownLine, type ReplyChannel } from "../message/reply.ts";
import { optWord } from "../message/restraint.ts";
import { merge } from "../message/template.ts";
import { textIn } from "../policy/company.ts";
import type { Signal } from "../policy/parking.ts";
import type { OptWord } from "../vocabulary.ts";
import { routeOn } from "./hand-off.ts";
import { wake } from "./park.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { noSuchLead } from "./refusals.ts";
import { tell, tellManagers } from "./tell.ts";

export type Heard = EventData["message-in"];

/** A known lead writes: the reply waits on top of the queue, and whoever has the lead hears of it. */
export function hearFrom(world: World, message: Heard): Decided {
  if (!world.lead) return noSuchLead();
  const draft = new Draft(world, { kind: "lead" });
  // What a machine wrote is kept where it belongs, and changes nothing.
  if (message.robot) return draft.add("message-in", message).done();
  const { channel } = message;
  // In a chat nobody is written to unasked: its words are words.
  const word = channel === "chat" ? null : optWord(message.body, world.setup.policies.restraint);
  if (word && channel !== "chat") {
    draft.add("message-in", { ...message, word });
    heed(draft, { ...message, channel }, word);
    return draft.done();
  }
  if (draft.lead.closed) draft.add("reopened", {}, { actor: { kind: "desk" } });
  draft.add("message-in", message);
  if (wake(draft, "reply")) return draft.done();
  if (draft.lead.ownerId) tell(draft, [draft.lead.ownerId], "reply");
  else if (draft.lead.handOff) tell(draft, draft.lead.handOff.to, "reply");
  else if (draft.lead.listed) tellManagers(draft, "reply");
  else routeOn(draft);
  return draft.done();
}

/** An opt-out, opt-in or help word: done at once, and answered once by the same way. */
function heed(draft: Draft, message: Heard & { readonly channel: ReplyChannel }, word: OptWord): void {
  const { setup } = draft.world;
  const { channel, from, body } = message;
  const said = body.trim().slice(0, 40);
  const stopped = draft.lead.stops.some((s) => s.channel === channel);
  if (word === "stop") {
    if (stopped) return;
    draft.add("stopped", { channel, how: "word", said });
    dropScheduled(draft, channel, `they wrote “${said}”`);
  } else if (word === "start") {
    if (!stopped) return;
    draft.add("stop-lifted", { channel, said });
  }
  const texts = setup.policies.restraint.answers[word];
  const template = textIn(texts, draft.lead.facts.language, setup.policies.company);
  if (!template) return;
  const answer = merge(template, setup, draft.lead);
  const source = setup.sources.find((s) => s.id === draft.lead.sourceId);
  const messageId = draft.world.id("msg");
  const subject = channel === "email" ? setup.policies.company.name : null;
  draft.send({
    id: messageId,
    key: `opt:${messageId}`,
    channel,
    to: from,
    from: ownLine(setup, source, channel),
    subject,
    body: answer,
    leadId: draft.leadId,
    purpose: "opt-answer",
    ...(message.messageId && { headers: { inReplyTo: message.messageId } }),
  });
  const data = { messageId, channel, to: from, subject, body: answer, template: null, auto: true as const };
  draft.add("message-out", data, { actor: { kind: "desk" } });
}

/** What waited to be sent on its own that way does not go any more. */
function dropScheduled(draft: Draft, channel: Heard["channel"], reason: string): void {
  const ids = draft.lead.scheduled
    .filter((s) => s.channel === channel && s.personId === null)
    .map((s) => s.id);
  if (ids.length > 0) draft.add("unscheduled", { ids, reason }, { actor: { kind: "desk" } });
}

/** They pressed the link in a mail that says no more of these. Pressing it twice changes nothing. */
export function unsubscribe(world: World): Decided {
  if (!world.lead) return noSuchLead();
  const draft = new Draft(world, { kind: "lead" });
  if (draft.lead.stops.some((s) => s.channel === "email")) return draft.done();
  draft.add("stopped", { channel: "email", how: "unsubscribe", said: "" });
  dropScheduled(draft, "email", "they unsubscribed");
  return draft.done();
}

/** They opened a link of ours: a signal, told to whoever has the lead by the thread alone. */
export function clicked(world: World, messageId: string, url: string): Decided {
  return noticed(world, "click", (draft) => draft.add("clicked", { messageId, url }));
}

/** They looked at one of the company's own pages, after a link of ours and with their consent. */
export function visited(world: World, url: string): Decided {
  return noticed(world, "visit", (draft) => draft.add("visited", { url }));
}

function noticed(world: World, signal: Signal, note: (draft: Draft) => void): Decided {
  if (!world.lead) return noSuchLead();
  const draft = new Draft(world, { kind: "lead" });
  note(draft);
  wake(draft, signal);
  return draft.done();
}

/** A message of ours that did not get through, and why. */
export type Undelivered = EventData["undelivered"];

/** A message of ours will never reach them: told to whoever has the lead, and nothing goes there on its own any more. */
export function undelivered(world: World, about: Undelivered): Decided {
  if (!world.lead) return noSuchLead();
  const draft = new Draft(world, { kind: "desk" });
  draft.add("undelivered", about);
  if (draft.lead.ownerId && !draft.lead.closed) tell(draft, [draft.lead.ownerId], "undelivered");
  return draft.done();
}

/** Something is known that changes nothing of the lead: it has its place in the course of things all the same. */
export const unchanged = (world: World): Decided =>
  world.lead ? new Draft(world, { kind: "desk" }).done() : noSuchLead();
