import { type DuckDBConnection, DuckDBInstance, type DuckDBValue } from "@duckdb/node-api";
import type { Sql } from "../../server/db/sql.ts";

/**
 * The same figures asked of another database over the events alone, for holding ours against: it shares neither the fold of a lead
 * nor the accounts made of it.
 */
export class Duck {
  readonly #db: DuckDBConnection;

  private constructor(db: DuckDBConnection) {
    this.#db = db;
  }

  /** Every event of a desk, copied over. */
  static async of(sql: Sql): Promise<Duck> {
    const db = await (await DuckDBInstance.create(":memory:")).connect();
    await db.run(
      "create table log (leadId varchar, seq integer, actId varchar, ts bigint, kind varchar, data json)",
    );
    const log = await db.createAppender("log");
    const events = sql.q.selectFrom("events").select(["leadId", "seq", "actId", "at", "kind", "dataJson"]);
    for (const row of sql.iterate(events)) {
      log.appendVarchar(row.leadId);
      log.appendInteger(row.seq);
      log.appendVarchar(row.actId);
      log.appendBigInt(BigInt(row.at));
      log.appendVarchar(row.kind);
      log.appendVarchar(row.dataJson);
      log.endRow();
    }
    log.closeSync();
    await db.run(VIEWS);
    return new Duck(db);
  }

  /** Rows of a question, numbers as numbers. */
  async rows(question: string, given: Record<string, DuckDBValue> = {}): Promise<Record<string, unknown>[]> {
    const named = Object.fromEntries(Object.entries(given).filter(([name]) => question.includes(`$${name}`)));
    const rows = (await this.#db.runAndReadAll(question, named)).getRowObjects();
    return rows.map((row) =>
      Object.fromEntries(Object.entries(row).map(([k, v]) => [k, typeof v === "bigint" ? Number(v) : v])),
    );
  }

  close(): void {
    this.#db.closeSync();
  }
}

/** What stands of what happened, and what of it figures are told from. */
const VIEWS = `
create view stood as select * from log where (leadId, actId) not in
  (select leadId, (data->>'$.actId') from log where kind = 'undone');
create view gone as
  select leadId from log where kind = 'inquiry' and (data->>'$.test')::boolean
  union select leadId from log group by leadId
    having coalesce(max(seq) filter (kind = 'joined-to'), 0) > coalesce(max(seq) filter (kind = 'parted'), 0)
  union select leadId from log where kind = 'inquiry' and seq = 1 and (data->>'$.kept')::boolean;
create view met as select leadId, min(ts) as ts from stood
  where kind = 'tried' or (kind = 'called-in' and (data->>'$.result') = 'answered') group by leadId;
create view aside as select leadId, min(ts) as ts from stood
  where kind in ('closed', 'parked', 'handed-over') group by leadId;
create view leads as
  select l.leadId, min(l.ts) as came, min(met.ts) as tried, min(aside.ts) as aside,
    any_value(l.data->>'$.sourceId') filter (l.kind = 'inquiry' and l.seq = 1) as source,
    count(*) filter (l.kind = 'inquiry') as inquiries
  from log l left join met using (leadId) left join aside using (leadId)
  where l.leadId not in (select leadId from gone) group by l.leadId;
create view tries as
  select t.leadId, t.ts, (t.data->>'$.personId') as person, (t.data->>'$.channel') as channel,
    (t.data->>'$.reached')::boolean as reached,
    row_number() over (partition by t.leadId order by t.seq) as n
  from stood t where t.kind = 'tried';
create view bells as
  select leadId, seq as beganSeq, ts as began, (data->>'$.dueAt')::bigint as due,
    row_number() over (partition by leadId order by seq) as n,
    lead(seq) over (partition by leadId order by seq) as nextSeq
  from log where kind = 'bell-started';
create view targets as
  select b.leadId,
    coalesce((select (m.data->>'$.dueAt')::bigint from log m where m.leadId = b.leadId and m.kind = 'bell-moved'
      and (m.data->>'$.bell') = 'inquiry' and m.seq > b.beganSeq and m.seq < coalesce(b.nextSeq, 1e9)
      order by m.seq desc limit 1), b.due) as due,
    (select min(a.ts) from stood a where a.leadId = b.leadId and a.seq > b.beganSeq and a.seq < coalesce(b.nextSeq, 1e9)
      and ((a.kind = 'tried' and not coalesce((a.data->>'$.uncounted')::boolean, false)) or a.kind = 'booked'
        or (a.kind = 'called-in' and (a.data->>'$.result') = 'answered'))) as answered,
    (select min(a.ts) from stood a where a.leadId = b.leadId and a.seq > b.beganSeq and a.seq < coalesce(b.nextSeq, 1e9)
      and (a.kind in ('closed', 'parked', 'handed-over', 'bought') or (a.kind = 'excused' and (a.data->>'$.bell') = 'inquiry'))) as off
  from bells b where b.n = 1;
create view asked as
  select o.leadId, o.seq, o.ts, unnest(cast(o.data->'$.to' as varchar[])) as person,
    coalesce(lead(o.seq) over (partition by o.leadId order by o.seq), 1000000000) as nextSeq
  from stood o where o.kind = 'offered';
`;
