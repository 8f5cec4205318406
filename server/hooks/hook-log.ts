import { setImmediate as breath } from "node:timers/promises";
import { nextWeekly } from "../../core/time/weekly.ts";
import type { Engine } from "../engine/engine.ts";
import { Recurring } from "../timers/recurring.ts";

/** How often the clock is looked at (ms). */
const NAP = 60_000;
/** When it is done, by the desk's clock: while nobody works. */
const NIGHT = "03:30";
/** What was delivered or put aside can be looked at and sent again for so long (ms). */
const KEPT_FOR = 90 * 86_400_000;
/** So many are taken out at once, so that nobody waits for it. */
const AT_ONCE = 2_000;

/** Takes deliveries to other systems out of the log once they are old; what still waits is left alone. */
export class HookLog extends Recurring {
  readonly #desk: Engine;
  #stopped = false;

  /** Also as the desk starts: one that is off each night would never come to it. */
  constructor(desk: Engine) {
    super(desk, NAP);
    this.#desk = desk;
  }

  async run(): Promise<void> {
    const { sql, clock, setup } = this.#desk;
    const before = clock.now() - KEPT_FOR;
    const old = sql.q
      .selectFrom("hookDeliveries")
      .select("id")
      .where("at", "<", before)
      .where("state", "!=", "queued")
      .orderBy("at")
      .orderBy("id")
      .limit(AT_ONCE);
    for (let gone = AT_ONCE; gone === AT_ONCE && !this.#stopped; await breath())
      gone = sql.run(sql.q.deleteFrom("hookDeliveries").where("id", "in", old));
    this.nextDue = nextWeekly({ weekday: null, time: NIGHT }, setup.policies.desk.zone, clock.now());
  }

  override stop(): void {
    this.#stopped = true;
    super.stop();
  }
}
