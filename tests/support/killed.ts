import { copyFileSync, existsSync, mkdirSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";

/**
 * Counts the writes of every statement, and dies at one of them: what is on disk then is all that is left, copied into a
 * folder. `database` is the file the desk under test is kept in just then, `into` a folder that is not there yet.
 */
export function killAt(
  write: number,
  database: () => string,
  into: () => string,
): { copy: () => string | null; stop: () => void } {
  const statement = Object.getPrototypeOf(new Database(":memory:").prepare("select 1")) as {
    run: (...values: unknown[]) => unknown;
  };
  const real = statement.run;
  let left = write;
  let copy: string | null = null;
  statement.run = function (this: { source: string }, ...values: unknown[]) {
    if (copy) throw new Error("killed");
    if (--left === 0) {
      copy = into();
      mkdirSync(copy);
      for (const part of ["kite-bell.db", "kite-bell.db-wal"]) {
        const from = join(database().replace(/kite-bell\.db$/, ""), part);
        if (existsSync(from)) copyFileSync(from, join(copy, part));
      }
      throw new Error("killed");
    }
    return real.apply(this, values);
  };
  return {
    copy: () => copy,
    stop: () => {
      statement.run = real;
    },
  };
}
