import { join } from "node:path";
import { readConfig } from "./config.ts";
import { Sql } from "./db/sql.ts";
import { verify } from "./verify-desk.ts";

/** `npm run verify -- --data DIR`: refold every lead and compare with its row. Ends with 1 when one differs. */
const { data } = readConfig(process.env, process.argv.slice(2));
const sql = await Sql.open(join(data, "kite-bell.db"));
const { leads, events, faults } = verify(sql);
for (const fault of faults.slice(0, 20)) console.error(fault);
console.log(
  `${leads} leads refolded from ${events} events: ${faults.length === 0 ? "every row is right" : `${faults.length} faults`}.`,
);
sql.close();
process.exit(faults.length === 0 ? 0 : 1);
