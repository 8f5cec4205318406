import { zonesOfPhone } from "../contact/area-zone.ts";
import type { Lead, Stop } from "../lead/lead.ts";
import type { Restraint } from "../policy/answering.ts";
import type { Setup } from "../policy/setup.ts";
import { nextWallTime } from "../time/defer.ts";
import { clockTime, dateTime, duration } from "../time/words.ts";
import type { ContactWay, OptWord } from "../vocabulary.ts";

/** What may be done with a message now. The words are for the thread. */
export type Verdict =
  | { readonly does: "send" }
  | { readonly does: "hold"; readonly until: number; readonly reason: string }
  | { readonly does: "refuse"; readonly reason: string };

export interface Wanted {
  readonly channel: "email" | "text";
  readonly to: string;
  /** Whether the company lets this one go at any hour: an answer to what they have just written. */
  readonly anyHour?: boolean;
}

const DAY = 86_400_000;

/** Where somebody is, as far as can be told, and what tells it. */
export interface Whereabouts {
  readonly zone: string;
  readonly by: string;
}

/**
 * The zones a lead may be in: their place by postal code or as stated, and the area code of the number. When
 * they differ all of them count, since nobody can know which is right.
 */
export function whereabouts(setup: Setup, lead: Lead, phone: string | null): readonly Whereabouts[] {
  const found: Whereabouts[] = [];
  const add = (zone: string, by: string) => {
    if (!found.some((f) => f.zone === zone)) found.push({ zone, by });
  };
  if (lead.facts.zone)
    add(
      lead.facts.zone,
      lead.facts.postalCode ? `postal code ${lead.facts.postalCode}` : "what is known of their place",
    );
  for (const zone of phone ? zonesOfPhone(phone) : []) add(zone, `area code ${phone!.slice(2, 5)}`);
  if (found.length === 0) add(setup.policies.desk.zone, "the desk’s own zone, as their place is not known");
  return found;
}

/** The first of these places where it is a quiet hour at `at`; null when it is none anywhere. */
function quietAt(places: readonly Whereabouts[], { from, to }: Restraint["allowed"], at: number) {
  return places.find(({ zone }) => {
    const time = clockTime(at, zone);
    return time < from || time >= to;
  });
}

/**
 * When a text or a call may next be made: `at` itself when it may be now.
 * Source: 47 CFR 64.1200(c)(1), not before 8 a.m. or after 9 p.m. at the called person's place; the end is
 * excluded here.
 */
export function allowedFrom(places: readonly Whereabouts[], hours: Restraint["allowed"], at: number): number {
  let then = at;
  // Each place that is quiet puts it off to its own morning; places a few hours apart agree within a day.
  for (let i = 0; i < 8; i++) {
    const quiet = quietAt(places, hours, then);
    if (!quiet) return then;
    then = nextWallTime(then, quiet.zone, hours.from);
  }
  return then;
}

/** How somebody asked not to be reached that way; null when they did not. */
export function stopOf(lead: Lead, channel: ContactWay): Stop | null {
  return lead.stops.find((s) => s.channel === channel) ?? null;
}

const NAMES: Readonly<Record<ContactWay, string>> = { text: "texts", email: "mails", call: "calls" };

/** How a stop is told in the thread. */
export function stopInWords(stop: Stop): string {
  if (stop.how === "word") return `they wrote “${stop.said}”`;
  if (stop.how === "unsubscribe") return "they unsubscribed";
  return "one of us marked it";
}

/** Whether an automatic message may go now. */
export function restrain(
  setup: Setup,
  lead: Lead,
  { channel, to, anyHour }: Wanted,
  now: number,
  suppressed: ReadonlySet<string>,
): Verdict {
  const { restraint, desk } = setup.policies;
  const refuse = (reason: string): Verdict => ({ does: "refuse", reason });
  const stop = stopOf(lead, channel);
  if (stop)
    return refuse(
      `They want no ${NAMES[channel]}: ${stopInWords(stop)}, ${dateTime(stop.at, desk.zone, now)}.`,
    );
  if (lead.facts.forbidden.includes(channel)) return refuse(`They do not want ${NAMES[channel]}.`);
  const bounce = lead.bounces.find((b) => b.to === to);
  if (bounce) return refuse(`What was written to ${to} did not arrive: ${bounce.because}.`);
  if (suppressed.has(to)) return refuse(`${to} is on the list of those who must not be written to.`);
  const lately = lead.automatic.filter((at) => at > now - DAY);
  if (lately.length >= restraint.perDay)
    return refuse(
      `They had ${lately.length} automatic messages within a day, and ${restraint.perDay} are the most.`,
    );
  if (anyHour) return { does: "send" };
  // A mail says nothing of a place; the number they left does.
  const places = whereabouts(setup, lead, channel === "text" ? to : (lead.phones[0] ?? null));
  const quiet = quietAt(places, restraint.allowed, now);
  if (!quiet) return { does: "send" };
  const until = allowedFrom(places, restraint.allowed, now);
  return {
    does: "hold",
    until,
    reason: `It is ${clockTime(now, quiet.zone)} where they are (by ${quiet.by}); automatic ${NAMES[channel]} go from ${restraint.allowed.from} to ${restraint.allowed.to}. Held for ${duration(until - now)}.`,
  };
}

/** What somebody who writes by hand should know first. `forbids` cannot be gone past. */
export interface StandsAgainst {
  readonly forbids: boolean;
  readonly said: string;
}

/**
 * What stands against a message written by hand. After an opt-out word no text may follow: the carrier would
 * refuse it too. The rest is for the person to weigh: they answer one who asked.
 */
export function warnings(
  setup: Setup,
  lead: Lead,
  { channel, to }: Wanted,
  now: number,
  suppressed: ReadonlySet<string>,
): readonly StandsAgainst[] {
  const verdict = restrain(setup, lead, { channel, to }, now, suppressed);
  if (verdict.does === "send") return [];
  const stop = stopOf(lead, channel);
  if (verdict.does === "hold") return [{ forbids: false, said: verdict.reason.replace(/ Held for .*/, "") }];
  // How many automatic messages went out is no reason for a person not to write.
  const bounced = lead.bounces.some((b) => b.to === to);
  if (!stop && !bounced && !lead.facts.forbidden.includes(channel) && !suppressed.has(to)) return [];
  return [{ forbids: stop?.how === "word" && channel === "text", said: verdict.reason }];
}

/** Words that may stand after an opt-out word without changing what it means. */
const COURTESY = new Set(
  "please pls plz thanks thank you now it all me this texting texts messages messaging everything svp merci por favor gracias".split(
    " ",
  ),
);

/** Letters alone, without accents and case. */
function plainWords(text: string): string[] {
  const plain = text.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();
  return plain.split(/[^a-z0-9]+/).filter(Boolean);
}

/**
 * Whether a message is an opt-out, opt-in or help word. It counts when the first word is one of the company's
 * words and nothing but courtesy follows, four words at most: “Stop please” does, “Stop by tomorrow?” does not.
 * The usual words (CTIA messaging principles: STOP, STOPALL, UNSUBSCRIBE, CANCEL, END, QUIT; START, HELP) are
 * values from memory; their French and Spanish twins are the company's own choice.
 */
export function optWord(text: string, { words }: Pick<Restraint, "words">): OptWord | null {
  const written = plainWords(text);
  const [first, ...rest] = written;
  if (!first || written.length > 4 || rest.some((w) => !COURTESY.has(w))) return null;
  const is = (list: readonly string[]) => list.some((w) => plainWords(w).join("") === first);
  if (is(words.stop)) return "stop";
  if (rest.length > 1) return null;
  if (is(words.start)) return "start";
  return is(words.help) ? "help" : null;
}
