import { createRequire } from "node:module";

// Loaded into a server under test: has SQLite say how it goes about each statement once it is prepared, and tells, when asked, which of
// them look through a whole table.
const Database = createRequire(import.meta.url)("better-sqlite3");
const { prepare } = Database.prototype;
const scanning = new Map();
const seen = new Set();
Database.prototype.prepare = function (source) {
  const statement = prepare.call(this, source);
  if (!seen.has(source) && /^\s*(select|update|delete|insert|with)\b/i.test(source)) {
    seen.add(source);
    try {
      const plan = prepare
        .call(this, `explain query plan ${source}`)
        .all(...Array(source.split("?").length - 1).fill(null));
      const scans = plan.map((row) => row.detail).filter((detail) => /^SCAN \w/.test(detail));
      if (scans.length > 0) scanning.set(source, scans);
    } catch {
      // A statement that can't be explained without its values.
    }
  }
  return statement;
};
process.on("message", (asked) => {
  if (asked === "plans") process.send?.([...scanning]);
});
