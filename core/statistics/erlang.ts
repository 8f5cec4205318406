/** A desk that waits for what comes: how much work comes (erlang: arrivals a second × seconds each takes) and who is there. */
export interface Load {
  /** Arrivals a second × seconds each takes. */
  readonly erlang: number;
  /** How many are on duty: a whole number, 0 or more. */
  readonly agents: number;
  /** How long one takes (s), on average. */
  readonly seconds: number;
}

export interface Service {
  /** The share that has to wait at all. */
  readonly waits: number;
  /** The share that is served within the time asked for. */
  readonly within: number;
  /** The mean wait of those who are served (s); Infinity where the queue never ends. */
  readonly meanWait: number;
  /** The share of their time those on duty are busy, 0 to 1. */
  readonly busy: number;
  /** The share that gives up before it is served. */
  readonly lost: number;
}

/** The share that finds everybody busy where nobody waits. Source: Erlang 1917, by the usual recursion. Never throws. */
export function erlangB(erlang: number, agents: number): number {
  let blocked = 1;
  for (let n = 1; n <= agents; n++) blocked = (erlang * blocked) / (n + erlang * blocked);
  return blocked;
}

const NEVER: Service = { waits: 1, within: 0, meanWait: Number.POSITIVE_INFINITY, busy: 1, lost: 0 };
const IDLE: Service = { waits: 0, within: 1, meanWait: 0, busy: 0, lost: 0 };

/**
 * How those who come are served where all of them wait as long as it takes: Poisson arrivals, exponential handling, first come
 * first served. `within` is the time asked for (s). Without enough on duty the queue never ends, and nobody is served in time.
 * Source: Erlang 1917. Never throws.
 */
export function erlangC({ erlang, agents, seconds }: Load, within: number): Service {
  if (erlang <= 0) return IDLE;
  if (agents <= erlang) return NEVER;
  const blocked = erlangB(erlang, agents);
  const waits = (agents * blocked) / (agents - erlang * (1 - blocked));
  const spare = (agents - erlang) / seconds;
  return {
    waits,
    within: 1 - waits * Math.exp(-spare * within),
    meanWait: waits / spare,
    busy: erlang / agents,
    lost: 0,
  };
}

/** In so many steps each stretch of a wait is summed up. */
const STEPS = 400;

/**
 * The same where those who wait lose interest: each gives up after a time of its own, exponential with the mean `patience` (s).
 * `within` counts those served by then, of all who came. Infinite patience is Erlang C, none at all Erlang B.
 *
 * Source: Palm 1946; the density of the wait they would have is Baccelli and Hebuterne's (1981), λπ₍ₙ₋₁₎ exp(λ(1 − e^(−θt))/θ − nμt),
 * summed by Simpson's rule. Never throws.
 */
export function erlangA(load: Load, within: number, patience: number): Service {
  const { erlang, agents, seconds } = load;
  if (erlang <= 0) return IDLE;
  if (patience === Number.POSITIVE_INFINITY) return erlangC(load, within);
  if (agents === 0) return { waits: 1, within: 0, meanWait: 0, busy: 0, lost: 1 };
  const blocked = erlangB(erlang, agents);
  if (patience <= 0)
    return {
      waits: blocked,
      within: 1 - blocked,
      meanWait: 0,
      busy: (erlang * (1 - blocked)) / agents,
      lost: blocked,
    };
  const [arrive, serve, leave] = [erlang / seconds, agents / seconds, 1 / patience];
  const exponent = (t: number) => (arrive * -Math.expm1(-leave * t)) / leave - serve * t;
  const peak = arrive > serve ? Math.log(arrive / serve) / leave : 0;
  // Everything is told against the highest point, which may lie beyond what a number holds.
  const top = exponent(peak);
  // B with one agent fewer is the chance of the last of the states in which somebody is free.
  const lastFree = erlangB(erlang, agents - 1);
  const density = (t: number) => arrive * lastFree * Math.exp(exponent(t) - top);
  const free = Math.exp(-top);
  const spread = 12 * Math.sqrt(patience / serve) + 40 / serve;
  const end = peak + Math.min(spread, serve > arrive ? 40 / (serve - arrive) : spread);
  // Where something happens on a scale of its own the steps are finer.
  const bends = [40 * patience, 40 / serve, peak - spread, peak];
  const sum = (to: number, of: (t: number) => number) => {
    const cuts = [0, ...bends.filter((t) => t > 0 && t < to).sort((x, y) => x - y), to];
    return cuts.slice(1).reduce((all, cut, i) => all + simpson(cuts[i]!, cut, (t) => density(t) * of(t)), 0);
  };
  const stays = (t: number) => Math.exp(-leave * t);
  const late = sum(end, () => 1);
  const all = free + late;
  const served = (free + sum(end, stays)) / all;
  return {
    waits: late / all,
    within: within <= 0 ? free / all : (free + sum(Math.min(within, end), stays)) / all,
    meanWait: sum(end, (t) => t * stays(t)) / all / served,
    busy: (erlang * served) / agents,
    lost: 1 - served,
  };
}

function simpson(from: number, to: number, f: (t: number) => number): number {
  const step = (to - from) / STEPS;
  let sum = f(from) + f(to);
  for (let i = 1; i < STEPS; i++) sum += f(from + i * step) * (i % 2 === 1 ? 4 : 2);
  return (sum * step) / 3;
}

/** More on duty than this nobody asks for. */
const MOST = 500;

/**
 * How many must be on duty so that the share `goal` (0 to 1) is served within a time; null when not even {@link MOST} would do.
 * `serve` says how so many serve: more of them never worse than fewer.
 */
export function neededFor(goal: number, serve: (agents: number) => Service): number | null {
  const keeps = (agents: number) => serve(agents).within >= goal;
  if (keeps(0)) return 0;
  let high = 1;
  while (high < MOST && !keeps(high)) high = Math.min(MOST, high * 2);
  if (high === MOST && !keeps(MOST)) return null;
  let low = Math.floor(high / 2);
  while (high - low > 1) {
    const middle = (low + high) >>> 1;
    if (keeps(middle)) high = middle;
    else low = middle;
  }
  return high;
}
