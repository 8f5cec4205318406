import { headOf } from "../cadence/run.ts";
import type { EventData } from "../lead/events.ts";
import type { NextStep } from "../lead/lead.ts";
import { ownLine } from "../message/reply.ts";
import { warnings } from "../message/restraint.ts";
import { renderTemplate } from "../message/template.ts";
import type { OutcomePolicy } from "../policy/calls.ts";
import { nameOf, personOf } from "../policy/setup.ts";
import { type Refused, refuse } from "../refusal.ts";
import { duration } from "../time/words.ts";
import type { Attachment, CallResult, ContactWay } from "../vocabulary.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { leadIsClosed, nobodyByThatId, noSuchLead } from "./refusals.ts";
import { addTry, addWriting, findOutcome, type TryReport } from "./try.ts";

/** The outcome a call most likely came to, by what the line reported; undefined when nothing tells. */
export function likelyOutcome(
  outcomes: readonly OutcomePolicy[],
  result: CallResult,
  seconds: number,
): OutcomePolicy | undefined {
  const named = (key: string) => outcomes.find((o) => o.key === key);
  if (result === "talked")
    // A machine that picks up is talked to for some seconds as well.
    return seconds >= TALK ? (named("reached") ?? outcomes.find((o) => o.reached)) : named("voicemail");
  return named(result);
}

/** From so many seconds on it was a talk and no greeting. */
const TALK = 20;

/** A person tried to reach the lead: the bell is answered, and the outcome sets the next step. */
export function logTry(world: World, report: TryReport): Decided {
  const draft = begin(world, report.personId);
  if (!(draft instanceof Draft)) return draft;
  const { meanwhile } = report;
  if (meanwhile) {
    const who = nameOf(world.setup, meanwhile.data.personId);
    const ago = duration(Math.floor((world.now - meanwhile.at) / 60_000) * 60_000);
    return refuse(
      "somebody-was-first",
      409,
      "Somebody was first",
      `${who} logged “${meanwhile.data.outcomeName}” ${world.now - meanwhile.at < 60_000 ? "just now" : `${ago} ago`}. Log yours as well if it was another try.`,
      "knows",
    );
  }
  const outcome = findOutcome(world.setup.policies.outcomes, report.outcome);
  if (!outcome) {
    const known = world.setup.policies.outcomes.map((o) => o.key).join(", ");
    return refuse("no-such-outcome", 422, "No such outcome", `Give one of: ${known}.`, "outcome");
  }
  const refused = report.text ? textAlong(draft, report.personId, report.text) : null;
  if (refused) return refused;
  addTry(draft, report, outcome);
  return draft.done();
}

/** The text that goes along with a try. Its next step is the try's own. */
function textAlong(
  draft: Draft,
  personId: string,
  { templateId, callBackSeconds }: NonNullable<TryReport["text"]>,
): Refused | null {
  const { setup } = draft.world;
  const template = setup.policies.templates.find((t) => t.id === templateId && t.channel === "text");
  if (!template)
    return refuse("no-such-template", 422, "No such template", "`text` names no template for texts.", "text");
  const { body } = renderTemplate(template, setup, draft.lead, personOf(setup, personId));
  return sendByHand(draft, { personId, channel: "text", body, template, callBackSeconds });
}

export interface MessageToLead {
  readonly personId: string;
  readonly channel: "text" | "email";
  readonly subject?: string | null;
  readonly body: string;
  /** Goes then instead of now (epoch ms), and is their try then. */
  readonly sendAt?: number | null;
  /** So many seconds it can be called back. */
  readonly callBackSeconds?: number | undefined;
  /** They have read what stands against it, and send it all the same. */
  readonly anyway?: boolean | undefined;
  readonly attachments?: readonly Attachment[];
  /** The template it began as. */
  readonly template?: { readonly id: string; readonly name: string } | null;
}

/** A person writes to the lead. A personal message is a try, so the bell is answered. */
export function writeTo(world: World, message: MessageToLead): Decided {
  const draft = begin(world, message.personId);
  if (!(draft instanceof Draft)) return draft;
  const refused = sendByHand(draft, message);
  if (refused) return refused;
  if (!message.sendAt) addWriting(draft, message.personId, message.channel);
  return draft.done();
}

/** Send what a person wrote, now or later; says why it can't be sent, when it can't. */
export function sendByHand(draft: Draft, message: MessageToLead): Refused | null {
  const { world } = draft;
  const { company } = world.setup.policies;
  const { channel, attachments, personId } = message;
  const body = message.body.trim();
  if (!body)
    return refuse("nothing-written", 422, "Nothing written", "Write something before sending.", "body");
  const to = channel === "email" ? draft.lead.emails[0] : draft.lead.phones[0];
  if (!to) {
    const missing = channel === "email" ? "mail address" : "phone number";
    return refuse(
      "no-way-to-send-it",
      422,
      "No way to send it",
      `This lead has no ${missing}. Add one, or write another way.`,
      "channel",
    );
  }
  if (channel === "text" && attachments?.length)
    return refuse(
      "a-text-carries-no-files",
      422,
      "A text carries no files",
      "Send the file by mail, or a link to it.",
      "attachments",
    );
  const against = warnings(
    world.setup,
    draft.lead,
    { channel, to },
    message.sendAt ?? world.now,
    world.suppressed,
  );
  const stands = against.find((w) => w.forbids) ?? (message.anyway === false ? against[0] : undefined);
  if (stands)
    return refuse(
      stands.forbids ? "must-not-be-written-to" : "read-this-first",
      409,
      stands.forbids ? "They must not be written to that way" : "Read this first",
      stands.said,
      "channel",
    );
  const subject = channel === "email" ? message.subject?.trim() || `Your inquiry at ${company.name}` : null;
  const source = world.setup.sources.find((s) => s.id === draft.lead.sourceId);
  const from = ownLine(world.setup, source, channel, personId);
  const files = attachments?.length ? { attachments } : {};
  if (message.sendAt) {
    if (message.sendAt <= world.now)
      return refuse(
        "in-the-past",
        422,
        "In the past",
        "A message for later needs a time that is still to come.",
        "sendAt",
      );
    const item = {
      id: world.id("out"),
      at: message.sendAt,
      channel,
      purpose: "reply" as const,
      templateId: null,
      subject,
      body,
      personId,
      from,
      inquiryId: null,
      ...files,
    };
    draft.add("scheduled", { item, reason: "Written for later." });
    return null;
  }
  const messageId = world.id("msg");
  const leavesAt = message.callBackSeconds ? world.now + message.callBackSeconds * 1000 : null;
  draft.send({
    id: messageId,
    key: `reply:${messageId}`,
    channel,
    to,
    from,
    subject,
    body,
    leadId: draft.leadId,
    purpose: "reply",
    ...(leavesAt && { notBefore: leavesAt }),
    ...files,
  });
  draft.add("message-out", {
    messageId,
    channel,
    to,
    subject,
    body,
    template: message.template?.name ?? null,
    ...(message.template && { templateId: message.template.id }),
    ...(leavesAt && { leavesAt }),
    ...files,
  });
  return null;
}

function begin(world: World, personId: string): Draft | Decided {
  if (!world.lead) return noSuchLead();
  if (!personOf(world.setup, personId)) return nobodyByThatId();
  if (world.lead.closed) return leadIsClosed();
  return new Draft(world, { kind: "person", id: personId });
}

/** A call made from the desk has ended; what it came to is for whoever called to say. */
export function calledOut(world: World, call: EventData["called-out"]): Decided {
  if (!world.lead) return noSuchLead();
  return new Draft(world, { kind: "person", id: call.personId }).add("called-out", call).done();
}

/** Put the next step at a time, with a note; null clears it. */
export function setNextStep(world: World, by: string, step: Omit<NextStep, "personId"> | null): Decided {
  const draft = begin(world, by);
  if (!(draft instanceof Draft)) return draft;
  if (step && step.dueAt <= world.now)
    return refuse("in-the-past", 422, "In the past", "The next step must lie in the future.", "dueAt");
  // What a cadence asked for is put off, and is the same call still.
  const { nextStep } = draft.lead;
  const touch = step && nextStep?.kind === step.kind ? nextStep.touch : undefined;
  const run = touch && draft.lead.cadences.find((r) => r.id === touch.runId && r.n === touch.n && !r.ended);
  if (step && run) {
    const moved = {
      ...headOf(world.setup, run),
      n: run.n,
      at: step.dueAt,
      reason: step.note,
      byHand: true as const,
    };
    draft.add("cadence-moved", moved);
  }
  const kept = step && { ...step, personId: draft.lead.ownerId ?? by, ...(run && touch && { touch }) };
  return draft.add("next-step", { step: kept }).done();
}

/** Pin what one should know when dialling; empty unpins it. */
export function pin(world: World, by: string, text: string): Decided {
  if (!world.lead) return noSuchLead();
  const draft = new Draft(world, { kind: "person", id: by });
  const pinned = text.replace(/\s+/g, " ").trim() || null;
  return pinned === world.lead.pinned ? draft.done() : draft.add("pinned", { text: pinned }).done();
}

/** Mark that a lead wants, or again allows, to be reached in some way. What they wrote themselves only they lift. */
export function markStop(
  world: World,
  by: string,
  channel: ContactWay,
  stop: boolean,
  said: string,
): Decided {
  if (!world.lead) return noSuchLead();
  const draft = new Draft(world, { kind: "person", id: by });
  const known = world.lead.stops.find((s) => s.channel === channel);
  if (stop)
    return known ? draft.done() : draft.add("stopped", { channel, how: "person", said: said.trim() }).done();
  if (!known) return draft.done();
  if (known.how !== "person")
    return refuse(
      "only-they-can-lift-it",
      409,
      "Only they can lift it",
      "They asked for it themselves. They can write START to be written to again.",
    );
  return draft.add("stop-lifted", { channel, said: said.trim() }).done();
}
