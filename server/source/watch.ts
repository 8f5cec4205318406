import type { Alert } from "../../core/message/outgoing.ts";
import { dateTime, duration } from "../../core/time/words.ts";
import type { Engine } from "../engine/engine.ts";
import { Recurring } from "../timers/recurring.ts";
import type { Sources } from "./sources.ts";

/** The longest between two looks (ms), so that new rhythms and new sources are noticed. */
const HOUR = 3_600_000;
/** How often the clock is looked at (ms). */
const NAP = 5_000;

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
    const ways: [Alert["channel"], string, string | null][] = [
      ...(policies.teamChat ? [["chat", policies.teamChat, null] as [Alert["channel"], string, null]] : []),
      ...people
        .filter((p) => !p.left)
        .filter((p) => p.role === "manager" || p.role === "administrator")
        .map((p): [Alert["channel"], string, string | null] => ["email", p.email, p.id]),
    ];
    desk.sql.transaction(() => {
      if (!this.#sources.tellOnce(sourceId, last)) return;
      for (const [channel, to, personId] of ways)
        desk.queueNotice({
          channel,
          to,
          personId,
          key: `quiet:${sourceId}:${last}:${channel}:${to}`,
          subject: channel === "email" ? `${name} has gone quiet` : null,
          body: channel === "email" ? body.replace(/\*/g, "") : body,
          purpose: "quiet",
        });
    });
    desk.feed.publish({ n: 0, leadId: null, kinds: ["source"] });
    desk.outbox.kick();
  }
}
