import type { Scheduled } from "../lead/lead.ts";
import { personOf } from "../policy/setup.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { sendAutomatic } from "./send.ts";
import { addWriting } from "./try.ts";

/** The time of scheduled messages has come: what is automatic is weighed again, what a person wrote goes. */
export function sendDue(world: World): Decided {
  const draft = new Draft(world, { kind: "desk" });
  for (const item of world.lead?.scheduled ?? []) {
    if (item.at > world.now || item.held || draft.lead.closed) continue;
    if (item.personId === null) sendAutomatic(draft, item, "its time has come");
    else sendWritten(draft, item, item.personId);
  }
  return draft.done();
}

/** A message somebody wrote earlier goes now, and counts as their try now. */
function sendWritten(draft: Draft, item: Scheduled, personId: string): void {
  const { lead } = draft;
  const { setup, id } = draft.world;
  const to = item.channel === "email" ? lead.emails[0] : lead.phones[0];
  const stopped = item.channel === "text" && lead.stops.find((s) => s.channel === "text" && s.how === "word");
  if (!to || stopped) {
    const reason = stopped
      ? `Meanwhile they wrote “${stopped.said}”.`
      : "There is no way to send it any more.";
    draft.add("held-back", {
      channel: item.channel,
      what: "A message written for now",
      reason,
      scheduledId: item.id,
    });
    return;
  }
  const messageId = id("msg");
  const { channel, subject, body, from, attachments } = item;
  draft.send({
    id: messageId,
    key: `reply:${item.id}`,
    channel,
    to,
    from,
    subject,
    body,
    leadId: draft.leadId,
    purpose: "reply",
    ...(attachments && { attachments }),
  });
  const actor = { kind: "person", id: personId } as const;
  draft.add(
    "message-out",
    {
      messageId,
      channel,
      to,
      subject,
      body,
      template: null,
      scheduledId: item.id,
      ...(attachments && { attachments }),
    },
    { actor },
  );
  if (personOf(setup, personId)) addWriting(draft, personId, channel);
}
