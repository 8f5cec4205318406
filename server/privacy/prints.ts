import { createHmac } from "node:crypto";
import type { KeptValues } from "../db/kept.ts";
import type { Sql } from "../db/sql.ts";

/** Under which name the salt of prints is kept. */
export const SALT = "erased";
/** A counter that is there once somebody was erased. */
export const ERASED_ONCE = "erased-people";

/** By what a list is kept from bringing back whoever was erased: it can cross to another thread. */
export interface ErasedPrints {
  readonly salt: string;
  readonly prints: readonly string[];
}

/** A salted print of a number or an address: it tells that the same came again, and without the salt never which it was. */
export const printOf = (salt: string, value: string): string =>
  createHmac("sha256", salt).update(value).digest("base64url");

/** The prints of all who were erased; null where nobody was. */
export function erasedPrints(sql: Sql, kept: KeptValues): ErasedPrints | null {
  const prints = sql.all(sql.q.selectFrom("erasedPrints").select("print")).map((p) => p.print);
  return prints.length > 0 ? { salt: kept.ownSecret(SALT), prints } : null;
}

/** Tells of a number or an address whether it is of somebody who was erased. */
export function knowsErased(erased: ErasedPrints | null): (value: string) => boolean {
  if (!erased) return () => false;
  const known = new Set(erased.prints);
  return (value) => known.has(printOf(erased.salt, value));
}
