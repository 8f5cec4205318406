import { evaluate } from "../condition/condition.ts";
import { factsOf } from "../lead/fields.ts";
import type { Lead } from "../lead/lead.ts";
import type { ReplyPolicy, Template } from "../policy/answering.ts";
import type { Setup } from "../policy/setup.ts";
import type { Source } from "../policy/source.ts";

export type ReplyChannel = "email" | "text";

/** What the automatic first reply is by one channel, as the policies have it for this lead. */
export type PlannedReply =
  | {
      readonly does: "send";
      readonly channel: ReplyChannel;
      readonly template: Template;
      readonly to: string;
      readonly from: string;
      readonly delayMinutes: number;
      readonly anyHour: boolean;
      readonly because: string;
    }
  | {
      readonly does: "nothing";
      readonly channel: ReplyChannel;
      readonly because: string;
      /** Whether somebody should look at it: it is meant to be sent, but something is missing. */
      readonly missing: boolean;
    };

/** How a source answers on its own: its own way, else the company's usual one. */
export function replyPolicyOf(setup: Setup, source: Source): ReplyPolicy {
  return source.reply ?? setup.policies.replies.usual;
}

/** When this lead was last answered on its own; null when never. */
function lastAutomatic(lead: Lead): number | null {
  return lead.automatic.at(-1) ?? null;
}

/** A line that is somebody's: their own, else one of a group of theirs. Null when they have none of that channel. */
export function lineOfPerson(
  { sources, groups }: Setup,
  personId: string,
  channel: ReplyChannel | "call",
): string | null {
  const of = (holds: (source: Source) => boolean) =>
    sources.find((s) => s.channel === channel && s.state === "live" && s.line && holds(s))?.line ?? null;
  const own = of((s) => s.lineOwnerId === personId);
  if (own) return own;
  const theirs = groups.filter((g) => g.members.some((m) => m.personId === personId)).map((g) => g.id);
  return of((s) => !!s.lineGroupId && theirs.includes(s.lineGroupId));
}

/**
 * The address the desk writes from by a channel: whoever writes by hand has their own line or their group's; else it is
 * the source's where that can be answered on, and the company's.
 */
export function ownLine(
  setup: Setup,
  source: Source | undefined,
  channel: ReplyChannel,
  personId: string | null = null,
): string {
  const { company } = setup.policies;
  const theirs = personId && lineOfPerson(setup, personId, channel);
  if (theirs) return theirs;
  if (source?.line && source.channel === channel) return source.line;
  return channel === "email" ? company.email : company.textLine;
}

/**
 * What a lead gets on its own for an inquiry through a source, by email and by text, before restraint weighs it.
 * A repeat within the company's window gets the shorter answer, or none.
 */
export function planReplies(setup: Setup, source: Source, lead: Lead, now: number): readonly PlannedReply[] {
  const policy = replyPolicyOf(setup, source);
  const { again } = setup.policies.replies;
  const before = lastAutomatic(lead);
  const repeated = before !== null && now - before < again.hours * 3_600_000;
  const facts = factsOf(lead, setup, now);
  return (["email", "text"] as const).map((channel): PlannedReply => {
    const way = policy[channel];
    const nothing = (because: string, missing = false): PlannedReply => ({
      does: "nothing",
      channel,
      because,
      missing,
    });
    if (!way.on) return nothing(`${source.name} does not answer by ${channel}.`);
    const to = channel === "email" ? lead.emails[0] : lead.phones[0];
    if (!to)
      return nothing(channel === "email" ? "They left no mail address." : "They left no phone number.");
    const choice = way.choices.find((c) => evaluate(c.when, facts));
    const id = repeated ? again[channel] : choice?.templateId;
    if (repeated && id === null)
      return nothing(
        `They were answered less than ${again.hours} hours ago, and a repeat gets nothing by ${channel}.`,
      );
    if (!id) return nothing("No template fits this inquiry.", true);
    const template = setup.policies.templates.find((t) => t.id === id);
    if (!template) return nothing("The template it names is gone.", true);
    return {
      does: "send",
      channel,
      template,
      to,
      from: way.from ?? ownLine(setup, source, channel),
      delayMinutes: repeated ? 0 : way.delayMinutes,
      anyHour: way.hours === "any",
      because: repeated
        ? `a repeat within ${again.hours} hours gets “${template.name}”`
        : `${source.reply ? source.name : "every source"} answers by ${channel} with “${template.name}”`,
    };
  });
}
