import { calendarAround, presence } from "../../core/policy/people.ts";
import { isOpen } from "../../core/time/calendar.ts";
import { endOfDay } from "../../core/time/defer.ts";
import { dayTime, duration } from "../../core/time/words.ts";
import type { Desk } from "../desk.ts";

/** Something wrong with the whole desk, for the line on top of every view. */
export interface Trouble {
  readonly key: string;
  /** A way out of the house that does not work; null for anything else. */
  readonly channel: "email" | "text" | "chat" | null;
  readonly since: number;
  /** Messages that wait for the way out. */
  readonly waiting: number;
  readonly error: string;
  /** In words, where it is no way out. */
  readonly said: string | null;
  /** Of replies that are held: the source they can be let go for. */
  readonly sourceId: string | null;
}

/** From so late on (ms) timers are behind: somebody should have been told by now. */
const BEHIND = 10_000;

/** Other systems that have not taken what they were told. */
function asideTroubles(desk: Desk, plain: (key: string, since: number, said: string) => Trouble): Trouble[] {
  const { setup, hooks, clock } = desk;
  if (setup.policies.hooks.length === 0) return [];
  const standing = hooks.standing();
  return setup.policies.hooks.flatMap(({ id, name, on }) => {
    const aside = standing.get(id)?.aside ?? 0;
    if (!on || aside === 0) return [];
    const what = aside === 1 ? "One delivery was" : `${aside.toLocaleString("en")} deliveries were`;
    const said = `${name} has not taken what it was told: ${what} put aside. Send them again under Set-up, Other systems.`;
    return [plain(`hook:${id}`, clock.now(), said)];
  });
}

/** What is wrong with the ground the desk stands on: its disk, its set-up, its log. */
function groundTroubles(desk: Desk, plain: (key: string, since: number, said: string) => Trouble): Trouble[] {
  const { sql, clock, fellBack, lostSince, backups } = desk;
  const now = clock.now();
  const { zone } = desk.setup.policies.desk;
  return [
    ...(sql.trouble ? [plain("disk", now, sql.trouble.said)] : []),
    ...(backups.trouble ? [plain("backups", backups.trouble.since, backups.trouble.said)] : []),
    ...asideTroubles(desk, plain),
    ...(fellBack ? [plain("setup", now, fellBack)] : []),
    ...(lostSince === null
      ? []
      : [
          plain(
            "log",
            lostSince,
            `The database’s log was lost before this start: what was written after ${dayTime(lostSince, zone, now)} may be missing.`,
          ),
        ]),
  ];
}

function heldInWords({ setup }: Desk, sourceId: string, leads: number, most: number): string {
  const name = setup.sources.find((s) => s.id === sourceId)?.name ?? "A source no longer here";
  return `${name} brings more new people than its ceiling of ${most} an hour: the first replies to ${leads} of them wait. The leads were offered all the same.`;
}

/** Ways out that do not work, and those nobody has set up for which something waits. */
function waysThatWait(desk: Desk): Trouble[] {
  const { outbox, unset, clock } = desk;
  const outages = outbox.outages();
  const down = outages
    .filter((way) => !unset.includes(way.channel))
    .map((way) => ({ key: way.channel, said: null, sourceId: null, ...way }));
  const missing = unset.flatMap((channel) => {
    const waiting = outbox.waiting(channel);
    const error = desk.whyUnset(channel) ?? "";
    const since = outages.find((o) => o.channel === channel)?.since ?? clock.now();
    const said = `${error} ${waiting === 1 ? "One message waits" : `${waiting} messages wait`} for it.`;
    return waiting === 0 ? [] : [{ key: channel, channel, since, waiting, error, said, sourceId: null }];
  });
  return [...down, ...missing];
}

/** What is systemically wrong now: ways that are down, nobody on duty while leads wait, silent sources, late timers. */
export function troublesOf(desk: Desk): readonly Trouble[] {
  const { setup, clock, timers, reader, sources } = desk;
  const now = clock.now();
  const { zone } = setup.policies.desk;
  const plain = (key: string, since: number, said: string): Trouble => ({
    key,
    channel: null,
    since,
    waiting: 0,
    error: "",
    said,
    sourceId: null,
  });
  const troubles: Trouble[] = [
    ...groundTroubles(desk, plain),
    ...waysThatWait(desk),
    ...desk.heldReplies.counts().map(({ sourceId, leads, most }) => ({
      ...plain(`held:${sourceId}`, now, heldInWords(desk, sourceId, leads, most)),
      sourceId,
    })),
  ];
  if (now - timers.nextDue > BEHIND)
    troubles.push(
      plain(
        "behind",
        timers.nextDue,
        `Bells are ${duration(now - timers.nextDue)} behind. They are being caught up with, in order; each rings once.`,
      ),
    );
  const sells = setup.people.filter((p) => p.role === "salesperson" && !p.left);
  const open = isOpen(calendarAround(setup.policies.desk, now), now);
  const waiting = open && sells.length > 0 ? reader.counts(endOfDay(now, zone)).answer : 0;
  if (waiting > 0 && !sells.some((p) => presence(p, now).onDuty))
    troubles.push(
      plain(
        "nobody",
        now,
        `Nobody who sells is on duty, and ${waiting} ${waiting === 1 ? "lead waits" : "leads wait"} for an answer.`,
      ),
    );
  for (const source of setup.sources) {
    if (source.state !== "live" || source.channel === "hand" || source.channel === "spreadsheet") continue;
    const last = sources.lastInquiry(source.id);
    if (last !== null && sources.isQuiet(source.id, now))
      troubles.push(
        plain(
          `quiet:${source.id}`,
          last,
          `${source.name} has gone quiet: nothing since ${dayTime(last, zone, now)}. Send a test from Set-up › Sources.`,
        ),
      );
  }
  return troubles;
}
