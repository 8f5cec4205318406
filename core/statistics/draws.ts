import { uniformFloat64 } from "pure-rand/distribution/uniformFloat64";
import { xoroshiro128plus } from "pure-rand/generator/xoroshiro128plus";

/** From this mean on a Poisson count is drawn as a rounded normal one: right in mean and variance, a little less skew. */
const NORMAL_FROM = 40;

/** So many numbers are passed over first: what a seed begins with is little more than the seed. */
const SKIPPED = 24;

/** A whole number turned into another that has nothing to do with it: Murmur3's finish (Appleby, public domain). */
function mixed(seed: number): number {
  let mix = seed | 0;
  mix = Math.imul(mix ^ (mix >>> 16), 0x85ebca6b);
  mix = Math.imul(mix ^ (mix >>> 13), 0xc2b2ae35);
  return mix ^ (mix >>> 16);
}

/** Chance from a seed: the same seed draws the same, on every machine. */
export class Draws {
  readonly #source;

  /** `seed`: any whole number; its low 32 bits count. */
  constructor(seed: number) {
    this.#source = xoroshiro128plus(mixed(seed));
    for (let i = 0; i < SKIPPED; i++) this.#source.next();
  }

  /** In [0, 1). */
  next(): number {
    return uniformFloat64(this.#source);
  }

  hits(probability: number): boolean {
    return this.next() < probability;
  }

  /** One of the list, which holds something. */
  pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.next() * list.length)]!;
  }

  /** A waiting time with this mean: exponential. */
  wait(mean: number): number {
    return -Math.log1p(-this.next()) * mean;
  }

  /** How many come where `mean` are expected: Poisson, by counting arrivals (Knuth 1969), normal for great means. */
  count(mean: number): number {
    if (mean >= NORMAL_FROM) return Math.max(0, Math.round(mean + Math.sqrt(mean) * this.normal()));
    let n = 0;
    for (let left = mean - this.wait(1); left > 0; left -= this.wait(1)) n++;
    return n;
  }

  /** Standard normal (Box and Muller 1958). */
  normal(): number {
    return Math.sqrt(-2 * Math.log1p(-this.next())) * Math.cos(2 * Math.PI * this.next());
  }
}
