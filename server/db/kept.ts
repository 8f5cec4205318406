import { randomBytes } from "node:crypto";
import type { Clock } from "../clock.ts";
import type { Sql } from "./sql.ts";

/** Small things the desk remembers beside its leads: secrets, counts, and what writing calls were answered. */
export class KeptValues {
  readonly #sql: Sql;
  readonly #clock: Clock;

  constructor(sql: Sql, clock: Clock) {
    this.#sql = sql;
    this.#clock = clock;
  }

  /** What a writing call with this idempotency key was answered before, if it was. */
  answered(key: string): { status: number; body: string; bodyHash: string | null } | undefined {
    return this.#sql.get(
      this.#sql.q.selectFrom("idempotency").select(["status", "body", "bodyHash"]).where("key", "=", key),
    );
  }

  /** Remember the answer to a writing call, so that its repeat gets the same. */
  remember(answer: { key: string; status: number; body: string; bodyHash: string }): void {
    const row = { ...answer, at: this.#clock.now() };
    this.#sql.run(
      this.#sql.q
        .insertInto("idempotency")
        .values(row)
        .onConflict((c) => c.doNothing()),
    );
  }

  /** A kept secret, such as the token of a connected platform; null when there is none. */
  secret(name: string): string | null {
    return (
      this.#sql.get(this.#sql.q.selectFrom("secrets").select("value").where("name", "=", name))?.value ?? null
    );
  }

  /** A secret of this desk's own, made when it is first asked for. */
  ownSecret(name: string): string {
    const known = this.secret(name);
    if (known !== null) return known;
    const value = randomBytes(32).toString("base64url");
    this.keepSecret(name, value);
    return value;
  }

  keepSecret(name: string, value: string): void {
    const insert = this.#sql.q.insertInto("secrets").values({ name, value });
    this.#sql.run(insert.onConflict((c) => c.column("name").doUpdateSet({ value })));
  }

  dropSecret(name: string): void {
    this.#sql.run(this.#sql.q.deleteFrom("secrets").where("name", "=", name));
  }

  /** A count that only ever grows, such as deliveries refused at the door. */
  count(name: string): void {
    const { q } = this.#sql;
    this.#sql.run(
      q
        .insertInto("counters")
        .values({ name, value: 1 })
        .onConflict((c) => c.column("name").doUpdateSet((eb) => ({ value: eb("counters.value", "+", 1) }))),
    );
  }

  /** A kept number, or null when it was never set. */
  counter(name: string): number | null {
    return (
      this.#sql.get(this.#sql.q.selectFrom("counters").select("value").where("name", "=", name))?.value ??
      null
    );
  }

  setCounter(name: string, value: number): void {
    const query = this.#sql.q.insertInto("counters").values({ name, value });
    this.#sql.run(query.onConflict((c) => c.column("name").doUpdateSet({ value })));
  }
}
