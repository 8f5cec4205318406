import { bothTimes, clockTime, counter, dayTime, duration } from "../../../core/time/words.ts";
import { deskNow } from "../../live/clock.ts";
import type { Lead, Person, QueueRow } from "../../wire/schemas.ts";

/** Everything the desk says about a lead in words, from what crossed the wire and the time. */

export const BAND_NAMES = {
  answer: "Answer now",
  rung: "Rung",
  again: "Try again",
  today: "Due today",
  later: "Later",
} as const;

/** What a band is for, when it is empty. */
export const BAND_EMPTY = {
  answer: "Nobody waits for an answer.",
  rung: "Nothing has rung.",
  again: "No tries are due.",
  today: "Nothing else is due today.",
  later: "Nothing is planned.",
} as const;

const first = (people: readonly Person[], id: string | undefined) =>
  people.find((p) => p.id === id)?.name.split(" ")[0] ?? "somebody";

/** The time a row shows, the word that says what it counts, and how full its bar is (0…1). */
interface Urgency {
  readonly figure: string;
  /** What the figure counts: since when they wait, until the bell, or past what was due. */
  readonly word: "wrote" | "called" | "left" | "over" | "due";
  readonly said: string;
  readonly over: boolean;
  readonly full: number;
  readonly tone: "brass" | "ember" | "plum" | "calm";
}

const DAY = 86_400_000;

/** How pressing a row is, by what presses most. */
export function urgency(row: QueueRow, now: number): Urgency | null {
  if (row.replyWaiting && row.place === "answer") {
    const word = row.callBack ? "called" : "wrote";
    const since = now - Date.parse(row.replyWaiting);
    const full = Math.min(1, since / 900_000);
    return {
      figure: counter(since),
      word,
      said: `${word} ${duration(since)} ago`,
      over: false,
      full,
      tone: "plum",
    };
  }
  const { dueAt, startedAt, state } = row.bell;
  if (dueAt && startedAt && (state === "waiting" || state === "rung")) {
    const left = Date.parse(dueAt) - now;
    const whole = Math.max(1, Date.parse(dueAt) - Date.parse(startedAt));
    if (left < 0) return over(left);
    const full = Math.min(1, 1 - left / whole);
    return {
      figure: counter(left),
      word: "left",
      said: `${duration(left)} left`,
      over: false,
      full,
      tone: "brass",
    };
  }
  if (row.rungSince) return over(Date.parse(row.rungSince) - now);
  if (!row.nextStep) return null;
  const left = Date.parse(row.nextStep.dueAt) - now;
  const late = left < 0;
  return {
    figure: counter(left),
    word: "due",
    said: late ? `due ${duration(left)} ago` : `due in ${duration(left)}`,
    over: late,
    full: late ? 1 : 0,
    tone: left < -DAY ? "ember" : late ? "brass" : "calm",
  };
}

/** Past its bell, by so many ms below nothing. */
const over = (left: number): Urgency => ({
  figure: counter(left),
  word: "over",
  said: `${duration(left)} over`,
  over: true,
  full: 1,
  tone: "ember",
});

/** How somebody said something. */
export const HOW = {
  form: "by form",
  email: "by email",
  text: "by text",
  chat: "in the chat",
  voicemail: "by phone",
  call: "by phone",
} as const satisfies Record<NonNullable<QueueRow["said"]>["how"], string>;

/** The newest thing they said, as a line; null when there are no words and nothing to tell. */
export function lastSaid({ said }: Pick<QueueRow, "said">): string | null {
  if (!said) return null;
  if (said.how === "voicemail") return "left a voicemail";
  if (said.how === "call") return "called, and nobody answered";
  return said.text?.replace(/\s+/g, " ").trim() || null;
}

/** What they want, beside the newest thing they said: their first words are not said twice. */
export function wantsBeside({ said, facts, product, wants }: QueueRow): string | null {
  const first = facts.message?.slice(0, said?.text?.length ?? 0);
  return said?.text && first === said.text ? product : wants;
}

/** Who has it and how that stands: `offered to Mara, 0:48 to take`. */
export function standing(row: QueueRow, people: readonly Person[], now: number): string {
  const { handOff, ownerId, listed } = row;
  if (handOff && handOff.state !== "taken" && handOff.until) {
    const to =
      handOff.state === "open"
        ? `open call to ${handOff.to.length}`
        : `offered to ${first(people, handOff.to[0])}`;
    return `${to}, ${counter(Math.max(0, Date.parse(handOff.until) - now))} to take`;
  }
  if (ownerId)
    return `${first(people, ownerId)} ${row.coversFor ? `covers for ${first(people, row.coversFor)}` : "has it"}`;
  return listed ? "manager's list" : "nobody has it";
}

/** Whether whoever has it has it for good, and until when it is only lent to them. */
function whose({ coversFor }: QueueRow, people: readonly Person[], zone: string, now: number): string {
  const away = people.find((p) => p.id === coversFor);
  if (!away) return "has it";
  const back = away.backAt ? `: it comes back ${dayTime(Date.parse(away.backAt), zone, now)}` : "";
  return `covers for ${away.name}${back}`;
}

/** The line under the name: *Waiting 3 min 20 s. Offered to Mara until 10:04, then to Idris.* */
export function nowLine(
  row: QueueRow,
  people: readonly Person[],
  thenTo: string | null,
  zone: string,
  now: number,
): string {
  if (row.closed) return `Closed ${dayTime(Date.parse(row.closed.at), zone, now)}: ${row.closed.reason}.`;
  const said: string[] = [];
  const theirs = row.facts.zone;
  const agreed = (at: string) =>
    theirs ? bothTimes(Date.parse(at), theirs, zone, now) : `${dayTime(Date.parse(at), zone, now)} here`;
  const { bell, handOff, ownerId, listed, nextStep, engaged } = row;
  if (engaged && Date.parse(engaged.until) > now)
    said.push(
      `${first(people, engaged.personId)} ${engaged.how === "call" ? "is on the phone with them" : "is writing to them"}: nothing rings meanwhile.`,
    );
  if (row.callBack)
    said.push(`They called ${duration(now - Date.parse(row.callBack))} ago and nobody answered: call back.`);
  else if (row.replyWaiting)
    said.push(`They wrote ${duration(now - Date.parse(row.replyWaiting))} ago and wait for an answer.`);
  if (bell.state === "waiting" && bell.startedAt && bell.dueAt)
    said.push(
      `Waiting ${duration(now - Date.parse(bell.startedAt))}, rings ${dayTime(Date.parse(bell.dueAt), zone, now)}.`,
    );
  if (bell.state === "rung" && bell.dueAt)
    said.push(`Rang ${duration(now - Date.parse(bell.dueAt))} ago: nobody has called.`);
  if (handOff && handOff.state !== "taken" && handOff.until) {
    const names = handOff.to.map((id) => first(people, id)).join(", ");
    said.push(
      `${handOff.state === "open" ? "Open call to" : "Offered to"} ${names} until ${clockTime(Date.parse(handOff.until), zone)}${thenTo ? `, then to ${thenTo}` : ""}.`,
    );
  } else if (ownerId)
    said.push(
      `${people.find((p) => p.id === ownerId)?.name ?? "Somebody"} ${whose(row, people, zone, now)}.`,
    );
  if (listed) said.push(`On the manager's list: ${listed.reason}.`);
  if (row.parked)
    said.push(
      `Parked since ${dayTime(Date.parse(row.parked.at), zone, now)}: ${row.parked.reason}.${row.parked.lookAt ? ` Next look ${dayTime(Date.parse(row.parked.lookAt), zone, now)}.` : ""}`,
    );
  if (row.promise) said.push(`Promised: ${row.promise.text}, ${agreed(row.promise.at)}.`);
  if (nextStep) said.push(`Next: ${nextStep.note.toLowerCase()}, ${agreed(nextStep.dueAt)}.`);
  else if (bell.state === "answered" && !row.parked) said.push("No next step.");
  return said.join(" ");
}

/** What comes next for a lead just worked, for the toast that says what was done. */
export function nextOf(lead: Lead, zone: string, theirs: string): string {
  if (lead.nextStep)
    return ` Next: ${lead.nextStep.note.toLowerCase()}, ${bothTimes(Date.parse(lead.nextStep.dueAt), theirs, zone, deskNow())}.`;
  return lead.listed ? ` On the manager’s list: ${lead.listed.reason}.` : "";
}
