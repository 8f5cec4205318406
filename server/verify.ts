import { join } from "node:path";
import { readConfig } from "./config.ts";
import { Sql } from "./db/sql.ts";
import { AccountBook } from "./figures/accounts.ts";
import { verify } from "./verify-desk.ts";

/**
 * `npm run verify -- --data DIR`: refold every lead and compare with its row, and with what figures are told from. Ends with 1
 * when one differs. With `--figures` what figures are told from is made again first.
 */
const args = process.argv.slice(2);
const { data } = readConfig(
  process.env,
  args.filter((arg) => arg !== "--figures"),
);
const sql = await Sql.open(join(data, "kite-bell.db"));
if (args.includes("--figures")) {
  const book = new AccountBook(sql);
  book.clear();
  while (book.follow(Number.POSITIVE_INFINITY));
}
const { leads, events, faults } = verify(sql);
for (const fault of faults.slice(0, 20)) console.error(fault);
console.log(
  `${leads} leads refolded from ${events} events: ${faults.length === 0 ? "every row is right" : `${faults.length} faults`}.`,
);
sql.close();
process.exit(faults.length === 0 ? 0 : 1);
