import { brief, card, HEADINGS, headingOf, ownHeading } from "../message/cards.ts";
import { type Alert, MANAGED_FOR, type OutChannel, type TakeLink } from "../message/outgoing.ts";
import type { AboutLead } from "../policy/alerts.ts";
import { personOf, type Setup } from "../policy/setup.ts";
import { alertAt, messagesFor, reachedAt } from "../policy/told.ts";
import type { AlertAbout } from "../vocabulary.ts";
import { type AlertWay, MESSAGE_WAYS } from "../vocabulary.ts";
import type { Draft } from "./plan.ts";

/** How an alert differs from what is usual for what it is about. */
export interface Wording {
  readonly heading?: string;
  /** The point of a short text. */
  readonly point?: string;
  /** By these ways, whatever they have chosen. */
  readonly ways?: readonly AlertWay[];
  /** With a link on which a manager covers, gives or excuses at once. */
  readonly manage?: boolean;
}

/** Alert people about the draft's lead, each by the ways they have chosen and in their hours. */
export function tell(
  draft: Draft,
  personIds: readonly string[],
  about: AboutLead,
  wording: Wording = {},
): void {
  const { setup, id, now, unset, wordless } = draft.world;
  const { tester } = draft.lead;
  for (const personId of tester ? personIds.filter((p) => p === tester) : personIds) {
    const person = personOf(setup, personId);
    if (!person) continue;
    const link: Alert["link"] = wording.manage
      ? { manage: true, leadId: draft.leadId, personId, until: now + MANAGED_FOR }
      : takeLink(draft, personId, about);
    const own = wording.heading ? null : ownHeading(setup, draft.lead, about);
    const heading = wording.heading ?? own ?? HEADINGS[about](draft.lead, setup);
    const ways = wording.ways ?? messagesFor(setup, person, about, unset);
    const at = alertAt(person, about, now);
    const bodies: Record<OutChannel, () => string> = {
      chat: () => card(setup, draft.lead, heading),
      text: () => brief(setup, draft.lead, wording.point ?? own ?? POINTS[about] ?? heading),
      email: () => card(setup, draft.lead, heading),
    };
    const messageIds = MESSAGE_WAYS.filter((channel) => ways.includes(channel)).flatMap((channel) => {
      const to = reachedAt(person, channel);
      const body = wordless ? "" : bodies[channel]();
      // Whoever has no phone, or is in no chat, is told by the other ways.
      if (!to) return [];
      const messageId = id("msg");
      draft.alert({
        id: messageId,
        key: `${about}:${draft.actId}:${personId}:${channel}`,
        channel,
        to,
        from: SENDERS[channel](setup),
        subject: channel === "email" ? heading : null,
        body,
        leadId: draft.leadId,
        purpose: about,
        personId,
        link,
        ...(at > now && { notBefore: at }),
      });
      return [messageId];
    });
    draft.add("alerted", { about, personId, messageIds }, { actor: { kind: "desk" } });
  }
}

const SENDERS: Readonly<Record<OutChannel, (setup: Setup) => string>> = {
  chat: () => "Kite Bell",
  text: ({ policies }) => policies.company.textLine,
  email: ({ policies }) => policies.company.email,
};

const POINTS: Partial<Record<AlertAbout, string>> = {
  "hand-off": "Offered to you",
  nudge: "Still waits for a call",
  standby: "Yours on standby",
  given: "Given to you",
  "call-back": "Call back",
};

function takeLink(draft: Draft, personId: string, about: AboutLead): TakeLink | null {
  const { handOff } = draft.lead;
  if (!handOff || handOff.state === "taken" || handOff.until === null) return null;
  if ((about !== "hand-off" && about !== "nudge") || !handOff.to.includes(personId)) return null;
  return { handOffId: handOff.id, leadId: draft.leadId, personId, until: handOff.until };
}

/** Alert the team's channel and every manager in chat. */
export function tellManagers(draft: Draft, about: AboutLead, wording: Wording = {}): void {
  const { setup } = draft.world;
  if (setup.policies.teamChat && !draft.lead.tester) tellTeam(draft, about, wording);
  tell(
    draft,
    setup.people.filter((p) => p.role === "manager" && !p.left).map((p) => p.id),
    about,
    wording,
  );
}

function tellTeam(draft: Draft, about: AboutLead, { heading }: Wording): void {
  const { setup, id } = draft.world;
  const messageId = id("msg");
  draft.alert({
    id: messageId,
    key: `${about}:${draft.actId}:team:chat`,
    channel: "chat",
    to: setup.policies.teamChat,
    from: "Kite Bell",
    subject: null,
    body: card(setup, draft.lead, heading ?? headingOf(setup, draft.lead, about)),
    leadId: draft.leadId,
    purpose: about,
    personId: null,
    link: null,
  });
  draft.add("alerted", { about, personId: null, messageIds: [messageId] }, { actor: { kind: "desk" } });
}
