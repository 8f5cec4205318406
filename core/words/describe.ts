import type { EventData, EventKind, LeadEvent } from "../lead/events.ts";
import type { BellKind } from "../policy/bells.ts";
import { SIGNALS } from "../policy/parking.ts";
import { nameOf, type Setup } from "../policy/setup.ts";
import { duration, timeBeside } from "../time/words.ts";
import { BELLS, lateBy, RUNGS } from "./bells.ts";

type Say<K extends EventKind> = (data: EventData[K], setup: Setup, event: LeadEvent) => string;

const list = (setup: Setup, ids: readonly string[]) => ids.map((id) => nameOf(setup, id)).join(", ");
const zoneOf = (setup: Setup) => setup.policies.desk.zone;
const CHANNEL = { call: "Called", text: "Wrote a text", email: "Wrote an email", visit: "Visited" } as const;

const said: { [K in EventKind]: Say<K> } = {
  inquiry: ({ sourceId, match, on, test }, setup) => {
    const source = setup.sources.find((s) => s.id === sourceId)?.name ?? "a source no longer here";
    const what = test ? "Test through the real path" : match === "sure" ? "Inquired again" : "Inquired";
    return match === "sure" ? `${what} by ${source} (known by ${on})` : `${what} by ${source}`;
  },
  "called-in": ({ result, seconds, line, personId }, setup) => {
    const whose = setup.sources.find((s) => s.line === line || s.formerLines?.includes(line))?.name ?? line;
    if (result === "missed") return `They called ${whose}, and nobody answered`;
    if (result === "voicemail")
      return `They called ${whose} and left a voicemail of ${duration(seconds * 1000)}`;
    const who = personId ? ` with ${nameOf(setup, personId)}` : "";
    return `They called ${whose} and talked${who} for ${duration(seconds * 1000)}`;
  },
  "called-out": ({ personId, result, seconds }, setup) =>
    `${nameOf(setup, personId)} rang them: ${result === "talked" ? `talked for ${duration(seconds * 1000)}` : RANG[result]}`,
  "maybe-same": ({ of }) =>
    of.length === 1 ? "May be somebody known already" : `May be one of ${of.length} people known already`,
  "not-same": ({ name }) => `Not the same person as ${name ?? "the other lead"}`,
  joined: ({ name }) => `${name ?? "Another lead"} joined to this lead`,
  "joined-to": ({ name }) => `Joined to ${name ?? "another lead"}`,
  parted: ({ name, lost = [] }) => [`Taken apart again from ${name ?? "another lead"}`, ...lost].join(". "),
  "parted-from": ({ name }) => `Taken apart again from ${name ?? "another lead"}`,
  shared: ({ value, shared }) =>
    shared ? `${value} is shared by several people` : `${value} is theirs alone`,
  related: ({ related }) =>
    related.length
      ? `Belongs together with ${related.map((r) => r.name).join(", ")}`
      : "Nobody belongs to them",
  learned: ({ facts: { facts, ...rest } }) =>
    `Filled in ${[...Object.keys(rest), ...Object.keys(facts ?? {})].map(factName).join(", ")}`,
  "bell-started": ({ dueAt, target }, setup, { at }) =>
    `Bell set for ${timeBeside(dueAt, zoneOf(setup), at)} (${target})`,
  watched: ({ bells }, setup, { at }) =>
    bells.map((b) => `${BELLS[b.kind].name}: rings ${timeBeside(b.dueAt, zoneOf(setup), at)}`).join("; "),
  "bell-moved": ({ bell, dueAt, reason }, setup, { at }) =>
    `Bell moved to ${timeBeside(dueAt, zoneOf(setup), at)}${ofBell(bell)}: ${reason}`,
  excused: ({ bell, reason }) => `Excused${ofBell(bell)}: ${reason}`,
  climbed: ({ bell, act, to, tag, skipped, late }, setup) => {
    const what = RUNGS[act] + (tag ? ` “${tag}”` : "") + (to?.length ? `: ${list(setup, to)}` : "");
    if (skipped) return `Left out, ${skipped}: ${what.toLowerCase()}${ofBell(bell)}`;
    return `${what}${ofBell(bell)}${lateness(late)}`;
  },
  promised: ({ promise }, setup, { at }) =>
    `Promised: ${promise.text}, ${timeBeside(promise.at, zoneOf(setup), at)}`,
  parked: ({ reason, planName, lookAt }, setup, { at }) =>
    `Parked: ${reason}${planName ? ` (${planName})` : ""}${lookAt ? `; next look ${timeBeside(lookAt, zoneOf(setup), at)}` : ""}`,
  "slow-step": ({ nextAt }, setup, { at }) =>
    nextAt ? `Slow plan: next ${timeBeside(nextAt, zoneOf(setup), at)}` : "Slow plan: nothing more is sent",
  visited: ({ url }) => `They looked at ${url.replace(/^https?:\/\//, "")}`,
  woken: ({ signal, ruleName, does }) =>
    `${does === "tell" ? "Told of" : "Woken"}: ${SIGNALS[signal]} (${ruleName})`,
  offered: ({ to, until, open, by }, setup, { at }) =>
    `${open ? "Open call to" : "Offered to"} ${list(setup, to)} until ${timeBeside(until, zoneOf(setup), at)} (${by})`,
  taken: ({ personId }, setup) => `${nameOf(setup, personId)} took it`,
  passed: ({ personId, reason, turnBack }, setup) =>
    `${nameOf(setup, personId)} passed: ${reason}${turnBack ? "; the next turn is theirs again" : ""}`,
  lapsed: ({ to, taken }, setup) =>
    taken
      ? `Taken back from ${list(setup, to)}: nobody had tried`
      : `Not taken in time by ${list(setup, to)}`,
  "asked-anew": () => "All had refused: everybody may be asked again",
  credited: ({ to, reason }, setup) =>
    `${to ? `The credit is ${nameOf(setup, to)}’s` : "Nobody has the credit"}${reason ? `: ${reason}` : ""}`,
  "turn-credited": ({ personId, reason }, setup) =>
    `${nameOf(setup, personId)} has the turn again: ${reason}`,
  given: ({ to, from, reason }, setup) =>
    `Given to ${nameOf(setup, to)}${from && from !== to ? `, was with ${nameOf(setup, from)}` : ""}: ${reason}`,
  listed: ({ reason, retryAt }, setup, { at }) =>
    `On the manager's list: ${reason}${retryAt ? `; asked again ${timeBeside(retryAt, zoneOf(setup), at)}` : ""}`,
  nudged: ({ to, late = 0 }, setup) =>
    (to.length ? `Nudged ${list(setup, to)}` : "Time for a nudge, but nobody had it") + lateness(late),
  rang: ({ late }) => (late > LATE ? `Rang ${lateBy(late)}` : "Rang: nobody had tried in time"),
  "stood-by": ({ to, late = 0 }, setup) =>
    (to ? `Goes to ${nameOf(setup, to)} on standby` : "Nobody was on standby") + lateness(late),
  tried: ({ personId, channel, outcomeName }, setup) =>
    channel === "call"
      ? `${nameOf(setup, personId)} called: ${outcomeName.toLowerCase()}`
      : `${CHANNEL[channel]}: ${nameOf(setup, personId)}`,
  "next-step": ({ step }, setup, { at }) =>
    step ? `Next: ${step.note}, ${timeBeside(step.dueAt, zoneOf(setup), at)}` : "No next step",
  "message-out": ({ channel, template, auto }) => {
    const what = channel === "email" ? "Email" : "Text";
    if (auto) return `${what} sent by itself${template ? `: ${template}` : ""}`;
    return template ? `${what} sent, from ${template}` : `${what} sent`;
  },
  scheduled: ({ item, reason }, setup, { at }) =>
    `${item.channel === "email" ? "Email" : "Text"} for ${timeBeside(item.at, zoneOf(setup), at)}: ${reason}`,
  unscheduled: ({ ids, reason }) =>
    `${ids.length === 1 ? "A message" : `${ids.length} messages`} for later will not go: ${reason}`,
  "held-back": ({ channel, what, reason }) => `${what} by ${channel} was not sent. ${reason}`,
  stopped: ({ channel, how, said }) =>
    `No more ${STOPS[channel].toLowerCase()}: ${how === "word" ? `they wrote “${said}”` : how === "unsubscribe" ? "they unsubscribed" : said || "marked by one of us"}`,
  "stop-lifted": ({ channel, said }) => `${STOPS[channel]} are welcome again${said ? `: “${said}”` : ""}`,
  engaged: ({ how }) => (how === "call" ? "Calling them" : "Writing to them"),
  "let-be": () => "No longer with them",
  clicked: ({ url }) => `They opened ${url.replace(/^https?:\/\//, "")}`,
  booked: ({ booked, movedFrom }, setup, { at }) =>
    `They ${movedFrom ? "moved the call to" : "booked a call:"} ${timeBeside(booked.at, zoneOf(setup), at)} with ${nameOf(setup, booked.personId)}`,
  "booking-cancelled": ({ booked }, setup, { at }) =>
    `They called off the call of ${timeBeside(booked.at, zoneOf(setup), at)}`,
  pinned: ({ text }) => (text ? `Pinned: ${text}` : "Nothing is pinned any more"),
  "message-in": ({ channel, robot, word, found }) =>
    robot
      ? `A machine answered by ${channel}: ${robot}`
      : word
        ? `They wrote “${word}”, and the desk has seen to it`
        : `They wrote ${channel === "email" ? "an email" : "a text"}${found ? ` (${found})` : ""}`,
  alerted: ({ about, personId }, setup) =>
    `Told ${personId ? nameOf(setup, personId) : "the team"}: ${ABOUT[about]}`,
  noted: ({ mentions }, setup) => (mentions ? `Note, for ${list(setup, mentions)}` : "Note"),
  closed: ({ reason }) => `Closed: ${reason}`,
  reopened: () => "Open again",
  undone: ({ what }) => `Took back ${what}`,
};

/** From so late on (ms) it is said: the desk itself was not there. */
const LATE = 60_000;

const lateness = (late: number) => (late > LATE ? `, ${lateBy(late)}` : "");

/** Which bell, where it is not the usual one. */
const ofBell = (bell: BellKind) => (bell === "inquiry" ? "" : ` (${BELLS[bell].name.toLowerCase()})`);

const RANG = {
  voicemail: "voicemail answered",
  "no-answer": "nobody answered",
  busy: "busy",
  "not-picked-up": "our own phone was not picked up",
  lost: "the desk went down meanwhile",
} as const;

const STOPS = { text: "Texts", email: "Mails", call: "Calls" } as const;

const FACT_NAMES: Readonly<Record<string, string>> = {
  postalCode: "postal code",
  own: "own fields",
  forbidden: "ways they must not be reached",
  preferred: "preferred way",
  kinds: "kinds of phone",
  unread: "what could not be read",
};
const factName = (key: string) => FACT_NAMES[key] ?? key;

const ABOUT = {
  "hand-off": "a lead is offered",
  nudge: "it still waits",
  ring: "it rang",
  standby: "it is theirs on standby",
  given: "it is theirs now",
  again: "it has inquired again",
  woke: "it was parked and came back",
  listed: "it is on the manager's list",
  reply: "they replied",
  "call-back": "they called and want to be called back",
  joined: "two leads are one person",
  quiet: "a source has gone quiet",
  gone: "it is with somebody else now",
  mentioned: "they are named in a note",
  booked: "a call is booked, moved or called off",
} as const;

/** One event as a short sentence for the thread. */
export function describeEvent(event: LeadEvent, setup: Setup): string {
  return (said[event.kind] as Say<EventKind>)(event.data as EventData[EventKind], setup, event);
}
