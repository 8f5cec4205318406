import { readablePhone } from "../contact/readable-phone.ts";
import { nameOrNumber } from "../lead/called.ts";
import type { Lead } from "../lead/lead.ts";
import type { AboutLead } from "../policy/alerts.ts";
import type { Setup } from "../policy/setup.ts";
import { dateTime, timeBeside, zoneName } from "../time/words.ts";
import { holder } from "../words/holder.ts";
import { LINK } from "./outgoing.ts";
import { unlinked } from "./outside-words.ts";
import { merge, wants } from "./template.ts";

/** The same facts in the same order, wherever an alert is read. */
function facts(setup: Setup, lead: Lead): string[] {
  const { territories } = setup.policies;
  const place = territories.find((t) => t.key === lead.facts.territory);
  const source = setup.sources.find((s) => s.id === lead.sourceId);
  const phone = lead.phones[0];
  return [
    `Wants: ${wants(setup, lead)}`,
    `Reach: ${[phone && readablePhone(phone), lead.emails[0]].filter(Boolean).join(" · ")}`,
    `Where: ${[place?.name, lead.facts.postalCode].filter(Boolean).join(", ") || "not known"}`,
    `From: ${source?.name ?? "by hand"}`,
    ...(lead.bell && lead.bell.state !== "answered" ? [`{by:${lead.bell.dueAt}}`] : []),
  ];
}

/** Until when somebody should call, as it is kept in an alert: what is said of it depends on when the alert leaves. */
const CALL_BY = /\{by:(\d{1,15})\}/g;

/** An alert as it reads when it leaves at `now` (epoch ms): whoever reads it late is not told to call before a time gone by. */
export const asItLeaves = (body: string, zone: string, now: number): string =>
  body.replace(CALL_BY, (_, at) => {
    const due = Number(at);
    const said = `${timeBeside(due, zone, now)} ${zoneName(due, zone)}`;
    return now < due ? `Call before ${said}` : `Rang at ${said}: call now`;
  });

const called = (lead: Lead) => unlinked(nameOrNumber(lead));

/** A card for chat: a heading, the facts a line each, and the link. */
export function card(setup: Setup, lead: Lead, heading: string): string {
  return [`*${heading}*`, ...facts(setup, lead), LINK].join("\n");
}

/** One short text message: the heading's point, whom, what, and the link. */
export function brief(setup: Setup, lead: Lead, point: string): string {
  const want = setup.policies.products.find((p) => p.key === lead.facts.product)?.name.toLowerCase();
  return `${point}: ${called(lead)}${want ? `, ${want}` : ""}${lead.phones[0] ? `, ${readablePhone(lead.phones[0])}` : ""}. ${LINK}`;
}

/** The usual headings, by what an alert is about. */
export const HEADINGS: Readonly<Record<AboutLead, (lead: Lead, setup: Setup) => string>> = {
  "hand-off": (lead: Lead) => `${called(lead)} is offered to you`,
  nudge: (lead: Lead) => `${called(lead)} still waits for a call`,
  ring: (lead: Lead, setup: Setup) => `Rung: nobody has called ${called(lead)}. With: ${holder(setup, lead)}`,
  standby: (lead: Lead) => `${called(lead)} comes to you on standby`,
  given: (lead: Lead) => `${called(lead)} was given to you`,
  again: (lead: Lead) => `${called(lead)} has inquired again`,
  woke: (lead: Lead, setup: Setup) =>
    `${called(lead)} was parked and came back. With: ${holder(setup, lead)}`,
  listed: (lead: Lead) =>
    lead.listed ? `On the list: ${called(lead)}, ${lead.listed.reason}` : `Nobody could take ${called(lead)}`,
  reply: (lead: Lead) => `${called(lead)} has replied`,
  "call-back": (lead: Lead) => `${called(lead)} called and nobody answered: call back`,
  joined: (lead: Lead, setup: Setup) =>
    `${called(lead)} was two leads and is one now, with ${holder(setup, lead)}`,
  booked: (lead: Lead, setup: Setup) =>
    lead.booked
      ? `${called(lead)} has booked a call: ${dateTime(lead.booked.at, setup.policies.desk.zone, lead.lastActivityAt)} ${zoneName(lead.booked.at, setup.policies.desk.zone)}`
      : `${called(lead)} has called off the call`,
  undelivered: (lead: Lead) => {
    const bounce = lead.bounces.at(-1);
    return bounce
      ? `What was written to ${called(lead)} did not arrive: ${unlinked(bounce.because)}`
      : `A message to ${called(lead)} did not arrive`;
  },
  planned: (lead: Lead) => `Something is planned for ${called(lead)}`,
  mentioned: (lead: Lead) => `You are named in a note on ${called(lead)}`,
  gone: (lead: Lead, setup: Setup) => `${called(lead)} is now with ${holder(setup, lead)}`,
};

/** The first line of an alert in the company's own words; null where it has none that say anything. Never throws. */
export function ownHeading(setup: Setup, lead: Lead, about: AboutLead): string | null {
  const own = setup.policies.alertWords[about];
  if (!own) return null;
  try {
    return merge(own, setup, lead).replace(/\s+/g, " ") || null;
  } catch {
    // Words are checked when they are saved; what has become unusable since must not keep an alert back.
    return null;
  }
}

/** The first line of an alert: the company's own words, else the usual ones. */
export const headingOf = (setup: Setup, lead: Lead, about: AboutLead): string =>
  ownHeading(setup, lead, about) ?? HEADINGS[about](lead, setup);
