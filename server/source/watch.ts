import type { Person } from "../../core/policy/people.ts";
import { alertAt, messagesFor, reachedAt, waysFor } from "../../core/policy/told.ts";
import { dateTime, duration } from "../../core/time/words.ts";
import type { MessageWay } from "../../core/vocabulary.ts";
import type { Engine } from "../engine/engine.ts";
import { Recurring } from "../timers/recurring.ts";
import type { Sources } from "./sources.ts";

/** The longest between two looks (ms), so that new rhythms and new sources are noticed. */
const HOUR = 3_600_000;
/** How often the clock is looked at (ms). */
const NAP = 5_000;

/** One message of a source that has gone quiet. `at` is when it may go (epoch ms). */
interface Told {
  readonly channel: MessageWay;
  readonly to: string;
  readonly personId: string | null;
  readonly at: number;
}

/** Whoever answers for the sources hears of it, and whoever has asked to. */
const hearsOfSources = ({ role, alerts }: Person): boolean =>
  role === "manager" || role === "administrator" || (alerts?.quiet ?? []).length > 0;

/**
 * Watches for sources that should be talking and are not. When silence begins to mean something is computed from the
 * source's own rhythm, so a look is due at that moment and not before; one silence is told once.
 */
export class SourceWatch extends Recurring {
  readonly #desk: Engine;
  readonly #sources: Sources;

  constructor(desk: Engine, sources: Sources) {
    super(desk, NAP);
    this.#desk = desk;
    this.#sources = sources;
  }

  /** Look at every live source now. Returns how many were told of. */
  run(): number {
    const { clock, setup } = this.#desk;
    const sources = this.#sources;
    const now = clock.now();
    let next = now + HOUR;
    let told = 0;
    for (const source of setup.sources) {
      if (source.state !== "live" || source.channel === "hand" || source.channel === "spreadsheet") continue;
      const last = sources.lastInquiry(source.id);
      const at = last === null ? null : sources.quietAt(source.id);
      if (last === null || at === null) continue;
      if (at > now) next = Math.min(next, at);
      else if (!sources.wasTold(source.id, last)) {
        this.#tell(source.id, source.name, last);
        told++;
      }
    }
    this.nextDue = next;
    return told;
  }

  #tell(sourceId: string, name: string, last: number): void {
    const desk = this.#desk;
    const { policies, people } = desk.setup;
    const now = desk.clock.now();
    const zone = policies.desk.zone;
    const body = [
      `*${name} has gone quiet*`,
      `Nothing has come since ${dateTime(last, zone, now)}, ${duration(now - last)} ago. By its usual rhythm about six inquiries should have.`,
      `Send a test from Set-up › Sources, and look at the other side.`,
    ].join("\n");
    const { looker } = desk;
    const managing = people.filter((p) => !p.left && hearsOfSources(p));
    const ways: Told[] = [
      ...(policies.teamChat
        ? [{ channel: "chat" as const, to: policies.teamChat, personId: null, at: now }]
        : []),
      ...managing.flatMap((p) =>
        messagesFor(desk.setup, p, "quiet", looker.unset).map((channel) => {
          return { channel, to: reachedAt(p, channel), personId: p.id, at: alertAt(p, "quiet", now) };
        }),
      ),
    ];
    desk.sql.transaction(() => {
      if (!this.#sources.tellOnce(sourceId, last)) return;
      for (const { channel, to, personId, at } of ways)
        desk.queueNotice({
          notBefore: at,
          channel,
          to,
          personId,
          key: `quiet:${sourceId}:${last}:${channel}:${to}`,
          subject: channel === "email" ? `${name} has gone quiet` : null,
          body: channel === "chat" ? body : body.replace(/\*/g, ""),
          purpose: "quiet",
        });
    });
    const told = managing
      .filter((p) => waysFor(desk.setup, p, "quiet").includes("browser"))
      .map((p) => ({ personId: p.id, about: "quiet" }));
    desk.feed.publish({ n: 0, leadId: null, kinds: ["source"], told });
    desk.outbox.kick();
  }
}
