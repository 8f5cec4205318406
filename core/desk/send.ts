import type { Trace } from "../lead/event.ts";
import type { CadenceRun, Lead, Scheduled } from "../lead/lead.ts";
import { replyCeiling } from "../message/ceiling.ts";
import type { OutgoingMessage } from "../message/outgoing.ts";
import { ownLine, planReplies } from "../message/reply.ts";
import { restrain } from "../message/restraint.ts";
import { renderTemplate } from "../message/template.ts";
import type { Template } from "../policy/answering.ts";
import type { CadencePlan, Touch } from "../policy/cadence.ts";
import { usualLanguage } from "../policy/company.ts";
import { personOf, type Setup } from "../policy/setup.ts";
import type { Source } from "../policy/source.ts";
import { refuse } from "../refusal.ts";
import { timeBeside } from "../time/words.ts";
import { type Decided, Draft, type World } from "./plan.ts";

const MINUTE = 60_000;

/** The automatic first reply to an inquiry, by each channel its source answers on. */
export function firstReply(draft: Draft, source: Source, inquiryId: string): void {
  const { setup, now, id } = draft.world;
  for (const reply of planReplies(setup, source, draft.lead, now)) {
    if (reply.does === "nothing") {
      if (reply.missing)
        draft.add("held-back", { channel: reply.channel, what: "The first reply", reason: reply.because });
      continue;
    }
    const item: Scheduled = {
      id: id("out"),
      at: now + reply.delayMinutes * MINUTE,
      channel: reply.channel,
      purpose: "first-reply",
      templateId: reply.template.id,
      subject: null,
      body: "",
      personId: null,
      from: reply.from,
      inquiryId,
      since: now,
      ...(reply.anyHour && { anyHour: true }),
    };
    if (item.at > now) {
      const reason = `${reply.because}, ${timeBeside(item.at, setup.policies.desk.zone, now)}.`;
      draft.add("scheduled", { item, reason: reason.charAt(0).toUpperCase() + reason.slice(1) });
    } else sendAutomatic(draft, item, reply.because);
  }
}

/** Why a first reply that has waited would come too late, in words; null when it would not. */
function overtaken(lead: Lead, { purpose, since = 0 }: Scheduled): string | null {
  if (purpose !== "first-reply") return null;
  if (lead.booked) return "They have booked a call meanwhile.";
  if ((lead.replyWaiting ?? lead.callBack ?? -1) >= since) return "They have written or called meanwhile.";
  if (lead.reached && lead.fruitless === 0 && (lead.lastTryAt ?? -1) >= since)
    return "They have been reached meanwhile.";
  return null;
}

/** Send what nobody wrote by hand: now, later, or not at all, as restraint has it. */
export function sendAutomatic(draft: Draft, item: Scheduled, because: string): void {
  const { setup, now, suppressed } = draft.world;
  const { lead } = draft;
  const what = item.purpose === "slow" ? "A message of the slow plan" : "The first reply";
  const waits = lead.scheduled.some((s) => s.id === item.id);
  const holdBack = (reason: string) =>
    draft.add("held-back", {
      channel: item.channel,
      what,
      reason,
      ...(waits && { scheduledId: item.id }),
    });
  const late = waits ? overtaken(lead, item) : null;
  if (late) return void holdBack(late);
  const template = setup.policies.templates.find((t) => t.id === item.templateId);
  if (!template) return void holdBack("The template it names is gone.");
  const to = item.channel === "email" ? lead.emails[0] : lead.phones[0];
  if (!to)
    return void holdBack(
      item.channel === "email" ? "They have no mail address." : "They have no phone number.",
    );
  const verdict = restrain(
    setup,
    lead,
    { channel: item.channel, to, anyHour: item.anyHour ?? false },
    now,
    suppressed,
  );
  if (verdict.does === "refuse") return void holdBack(verdict.reason);
  if (verdict.does === "hold") {
    draft.add("scheduled", { item: { ...item, at: verdict.until }, reason: verdict.reason });
    return;
  }
  const flood = item.purpose === "first-reply" && !item.released ? floodOf(draft) : null;
  if (flood) {
    draft.add("scheduled", { item: { ...item, at: now, held: true }, reason: flood });
    return;
  }
  deliver(draft, template, {
    channel: item.channel,
    to,
    from: item.from,
    key:
      item.purpose === "slow"
        ? `slow:${draft.leadId}:${item.id}`
        : `first-reply:${item.inquiryId}:${item.channel}`,
    purpose: item.purpose,
    outcome: `${item.purpose === "slow" ? "The slow plan’s message" : "First reply"} by ${item.channel}. It does not count as a try.`,
    because,
    more: waits ? { scheduledId: item.id } : {},
  });
}

/** Ways in by which only somebody of ours, or a list of theirs, brings people. */
const OUR_OWN: ReadonlySet<string> = new Set(["hand", "spreadsheet"]);

/**
 * Why a first reply waits for a person although nothing of its lead stands against it: its source has answered more
 * people nobody knew, within an hour, than it ever brings. Null when it has not.
 */
function floodOf({ world, lead }: Draft): string | null {
  const source = world.setup.sources.find((s) => s.id === lead.sourceId);
  if (!source || OUR_OWN.has(source.channel) || lead.test || lead.automatic.length > 0) return null;
  const { lately, usual } = world.replies(source.id);
  const most = replyCeiling(usual, world.setup.policies.restraint.perSourceHour);
  if (lately < most) return null;
  return `${source.name} has answered ${lately} new people within an hour, and ${most} are the most on its own. It goes when somebody lets it go.`;
}

/** Let the first replies that are held go, or drop them. What was overtaken meanwhile does not go. */
export function letGo(world: World, by: string, send: boolean): Decided {
  const draft = new Draft(world, { kind: "person", id: by });
  const held = world.lead?.scheduled.filter((s) => s.held) ?? [];
  const { closed, tries, reached } = draft.lead;
  if (!send || closed || tries > 0 || reached) {
    const reason = send ? "they were reached, or somebody has tried, meanwhile" : "dropped";
    if (held.length > 0) draft.add("unscheduled", { ids: held.map((s) => s.id), reason });
    return draft.done();
  }
  for (const { held: _, ...item } of held)
    sendAutomatic(draft, { ...item, released: true }, "somebody let it go");
  return draft.done();
}

/** What became of a message of a cadence. */
export type TouchSent =
  | { readonly does: "send"; readonly messageId: string }
  | { readonly does: "hold"; readonly until: number; readonly reason: string }
  | { readonly does: "refuse"; readonly reason: string };

/** The words of a message of a cadence: its template's, or those written in it. Null when its template is gone. */
export function wordsOf(touch: Touch, name: string, setup: Setup): Template | null {
  if (touch.templateId) return setup.policies.templates.find((t) => t.id === touch.templateId) ?? null;
  const channel = touch.kind === "text" ? "text" : "email";
  const text = { ...(touch.subject && { subject: touch.subject }), body: touch.body ?? "" };
  return { id: "", name, channel, texts: { [usualLanguage(setup.policies.company)]: text } };
}

/** Send a message of a cadence now, as far as restraint lets it. Holding and refusing leave nothing behind. */
export function sendTouch(draft: Draft, run: CadenceRun, touch: Touch, plan: CadencePlan): TouchSent {
  const { setup, now, suppressed } = draft.world;
  const { lead } = draft;
  const channel = touch.kind === "text" ? "text" : "email";
  const to = channel === "email" ? lead.emails[0] : lead.phones[0];
  if (!to)
    return {
      does: "refuse",
      reason: channel === "email" ? "they have no mail address" : "they have no phone number",
    };
  const template = wordsOf(touch, plan.name, setup);
  if (!template) return { does: "refuse", reason: "the template it names is gone" };
  const verdict = restrain(setup, lead, { channel, to }, now, suppressed);
  if (verdict.does !== "send") return verdict;
  const source = setup.sources.find((s) => s.id === lead.sourceId);
  const messageId = deliver(draft, template, {
    channel,
    to,
    from: ownLine(setup, source, channel, lead.ownerId),
    key: `touch:${draft.leadId}:${run.id}:${run.round}:${run.n}`,
    purpose: "cadence",
    outcome: `Touch ${run.n + 1} of “${plan.name}”, by ${channel}. It does not count as a try.`,
    because: `its time has come${run.round > 0 ? `, for the ${run.round + 1}. time round` : ""}`,
    more: {},
  });
  return { does: "send", messageId };
}

/** Fill a template, put it into the outbox and write it into the thread. Gives the message's id. */
function deliver(
  draft: Draft,
  template: Template,
  how: Pick<OutgoingMessage, "to" | "from" | "key" | "purpose"> & {
    readonly channel: "email" | "text";
    readonly outcome: string;
    readonly because: string;
    readonly more: object;
  },
): string {
  const { channel, to, from, key, purpose, outcome, because, more } = how;
  const { setup } = draft.world;
  const owner = personOf(setup, draft.lead.ownerId);
  const { subject, body } = draft.world.wordless
    ? { subject: null, body: "" }
    : renderTemplate(template, setup, draft.lead, purpose === "cadence" ? owner : undefined);
  const messageId = draft.world.id("msg");
  const files = template.attachments && { attachments: template.attachments };
  draft.send({
    id: messageId,
    key,
    channel,
    to,
    from,
    subject,
    body,
    leadId: draft.leadId,
    purpose,
    ...files,
  });
  const why: Trace = {
    outcome,
    steps: [{ kind: "reply", name: template.name, result: "yes", reason: because }],
  };
  const data = {
    messageId,
    channel,
    to,
    subject,
    body,
    template: template.name,
    ...(template.id && { templateId: template.id }),
    auto: true as const,
    ...more,
    ...files,
  };
  draft.add("message-out", data, { why, actor: { kind: "desk" } });
  return messageId;
}

/** Take a scheduled message back before its time. */
export function unschedule(world: World, by: string, scheduledId: string): Decided {
  const item = world.lead?.scheduled.find((s) => s.id === scheduledId);
  if (!item)
    return refuse("nothing-waits", 409, "Nothing waits", "This message has gone already, or was taken back.");
  return new Draft(world, { kind: "person", id: by })
    .add("unscheduled", { ids: [scheduledId], reason: "taken back" })
    .done();
}
