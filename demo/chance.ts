/** A small seeded generator (mulberry32, public domain): the same seed makes the same demo. */
export class Chance {
  #state: number;

  constructor(seed: number) {
    this.#state = seed >>> 0;
  }

  /** A number in [0, 1). */
  next(): number {
    this.#state = (this.#state + 0x6d2b79f5) >>> 0;
    let t = this.#state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  }

  /** Whether something of this probability happens. */
  hits(probability: number): boolean {
    return this.next() < probability;
  }

  /** One of the list. */
  pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.next() * list.length)]!;
  }

  /** A key of the table, as often as its weight says. */
  weighted<K extends string>(table: Readonly<Record<K, number>>): K {
    const entries = Object.entries(table) as [K, number][];
    let at = this.next() * entries.reduce((sum, [, w]) => sum + w, 0);
    for (const [key, weight] of entries) {
      at -= weight;
      if (at < 0) return key;
    }
    return entries.at(-1)![0];
  }

  /** A waiting time with this mean: exponential. */
  wait(mean: number): number {
    return -Math.log(1 - this.next()) * mean;
  }
}
