import { unusable } from "../../core/desk/usable.ts";
import type { Setup } from "../../core/policy/setup.ts";
import { dateTime } from "../../core/time/words.ts";
import type { Sql } from "../db/sql.ts";
import { keepSetup, keptSetups } from "./kept-setup.ts";

/**
 * The newest set-up that can be used. A desk whose newest can't goes by the one before, and takes inquiries all the same.
 * `setup` is what a new folder begins with; `now` in epoch ms.
 * @throws with a sentence when there are versions and none of them can be used.
 */
export function storedSetup(sql: Sql, setup: Setup, now: number): { setup: Setup; fellBack: string | null } {
  let fellBack: string | null = null;
  for (const version of keptSetups(sql)) {
    const problem = unusable(version.setup, now);
    if (!problem) {
      const { zone } = version.setup.policies.desk;
      const when = dateTime(version.at, zone, now);
      return {
        setup: version.setup,
        fellBack:
          fellBack && `${fellBack} The desk goes by the set-up of ${when} until somebody saves another.`,
      };
    }
    fellBack ??= `The newest set-up can’t be used: ${problem.detail} (${problem.errors?.[0]?.path ?? "set-up"}).`;
  }
  if (fellBack) throw new Error(`${fellBack} No earlier one can be used either.`);
  keepSetup(sql, setup, now, null);
  return { setup, fellBack: null };
}
