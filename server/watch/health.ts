import { troublesOf } from "../bells/troubles.ts";
import type { Desk } from "../desk.ts";

/** So far (ms) the machine's clock may move against its own steady one before that is a jump. */
const JUMP = 5_000;
/** From so late on (ms) timers are behind. */
const BEHIND = 10_000;

/** What is looked at to say whether a desk is well; each is true while it is. */
export interface Health {
  /** Whether inquiries can be taken in and kept. */
  readonly ok: boolean;
  readonly checks: {
    readonly disk: boolean;
    readonly clock: boolean;
    readonly timers: boolean;
    readonly outbox: boolean;
    readonly backup: boolean;
    readonly webhooks: boolean;
  };
  /** How old the newest backup is (seconds); null where none was made. */
  readonly backupAge: number | null;
}

/** Notices that the machine's clock was set: everything the desk promises by the minute hangs on it. */
export class ClockWatch {
  #offset: number;
  /** By how much it was set the last time (ms), and when by the new time; null when it never was. */
  jumped: { readonly by: number; readonly at: number } | null = null;
  readonly #wall: () => number;
  readonly #steady: () => number;

  constructor(wall: () => number = Date.now, steady: () => number = () => performance.now()) {
    this.#wall = wall;
    this.#steady = steady;
    this.#offset = wall() - steady();
  }

  /** Look at both clocks; gives by how much the machine's was set since the last look (ms), 0 when it was not. */
  look(): number {
    const now = this.#wall();
    const by = now - this.#steady() - this.#offset;
    // Slow drift is what time servers mend; it is followed and no jump.
    this.#offset += by;
    if (Math.abs(by) < JUMP) return 0;
    this.jumped = { by, at: now };
    return by;
  }
}

/** How long a jump is told of (ms). */
const TOLD_FOR = 3_600_000;

/** Whether a desk is well, part by part. `ok` says whether it can do what it is for: take inquiries in. */
export function healthOf(desk: Desk, clockWatch: ClockWatch): Health {
  const { sql, clock, timers, backups } = desk;
  clockWatch.look();
  const now = clock.now();
  const troubles = new Set(troublesOf(desk).map((t) => t.key.split(":")[0]));
  const ways = ["email", "text", "chat"].some((way) => troubles.has(way));
  const jumped = clockWatch.jumped;
  const newest = backups.madeAt;
  return {
    ok: sql.trouble === null,
    checks: {
      disk: sql.trouble === null,
      clock: !jumped || Date.now() - jumped.at > TOLD_FOR,
      timers: now - timers.nextDue < BEHIND,
      outbox: !ways,
      backup: backups.trouble === null,
      webhooks: !troubles.has("hook"),
    },
    backupAge: newest === null ? null : Math.max(0, Math.round((now - newest) / 1000)),
  };
}
