/** How many people a source may answer on its own who were never written to: so that nobody can have us write to the world. */

/** Every source may answer so many within an hour, however rarely it is heard of. */
const LEAST = 60;
/** And so many times what its own busiest hour usually brings: a campaign's first hour is several of them. */
const TIMES = 5;

/**
 * How many first replies to new recipients a source sends within an hour before the next ones wait for a person.
 * `usual` is what its busiest hour of the week usually brings; `own` what the company has decided, or null.
 */
export function replyCeiling(usual: number, own: number | null | undefined): number {
  return own ?? Math.max(LEAST, Math.ceil(usual * TIMES));
}
