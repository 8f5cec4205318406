import { type Expression, type RawBuilder, sql as raw, type SqlBool } from "kysely";
import { evaluate } from "../../core/condition/condition.ts";
import { compileTest, fold, wanted } from "../../core/condition/operators.ts";
import type { Condition, FieldKey, FieldValue, Test } from "../../core/condition/tree.ts";
import { type ColumnStore, dateBegins, type Masked } from "../../core/lead/column-store.ts";
import { DAY_FIELDS, NUMBER_FIELDS, SEPARATOR, TEXT_FIELDS } from "../../core/lead/columns.ts";
import { factsOf } from "../../core/lead/fields.ts";
import type { Lead } from "../../core/lead/lead.ts";
import type { Setup } from "../../core/policy/setup.ts";
import { clockTime, weekdayName } from "../../core/time/words.ts";

const DAY = 86_400_000;

/** A condition as the database can ask it. */
export interface Where {
  /** Holds for every lead the condition holds for; and for no other, where it is exact. */
  readonly sql: Expression<SqlBool>;
  /** Whether that is all of the condition: else each lead found is to be asked once more. */
  readonly exact: boolean;
  /** Whether the condition holds for a lead, as core says. */
  readonly holds: (lead: Lead) => boolean;
  /** The same, of all leads in memory. */
  readonly masked: (store: ColumnStore) => Masked;
}

type Sql = RawBuilder<SqlBool>;
const TRUE = raw<SqlBool>`1`;
const FALSE = raw<SqlBool>`0`;
const truth = (is: boolean): Sql => (is ? TRUE : FALSE);
const either = (parts: readonly Sql[]): Sql =>
  parts.length === 0 ? FALSE : raw<SqlBool>`(${raw.join(parts, raw` or `)})`;
const both = (parts: readonly Sql[]): Sql =>
  parts.length === 0 ? TRUE : raw<SqlBool>`(${raw.join(parts, raw` and `)})`;
/** Of something that is never null. */
const not = (part: Sql): Sql => raw<SqlBool>`not ${part}`;

const TEXTS: Partial<Record<FieldKey, string>> = TEXT_FIELDS;
const NUMBERS: Partial<Record<FieldKey, string>> = NUMBER_FIELDS;
const DAYS: Partial<Record<FieldKey, string>> = DAY_FIELDS;

/**
 * A condition as the database can ask it of `leads`, at `now` (epoch ms). What columns say is compiled, exactly as core
 * compares it; what they do not is left to core, and is true for all leads in what the database is asked.
 */
export function whereOf(condition: Condition | null, setup: Setup, now: number): Where {
  const holds = (lead: Lead) => evaluate(condition, factsOf(lead, setup, now));
  const masked = (store: ColumnStore) => store.mask(condition, setup, now);
  if (!condition) return { sql: TRUE, exact: true, holds, masked };
  return { ...tree(condition, setup, now), holds, masked };
}

interface Compiled {
  readonly sql: Sql;
  readonly exact: boolean;
}

function tree(condition: Condition, setup: Setup, now: number): Compiled {
  if ("field" in condition) {
    const sql = testSql(condition, setup, now);
    return sql ? { sql, exact: true } : { sql: TRUE, exact: false };
  }
  const [kind] = Object.keys(condition) as ["all" | "any" | "none"];
  const parts = (condition as Record<string, readonly Condition[]>)[kind]!.map((c) => tree(c, setup, now));
  const exact = parts.every((p) => p.exact);
  if (kind === "all") return { sql: both(parts.map((p) => p.sql)), exact };
  if (kind === "any") return { sql: either(parts.map((p) => p.sql)), exact };
  // What is asked too widely can't be turned round: only what is exact keeps a lead out.
  return { sql: not(either(parts.filter((p) => p.exact).map((p) => p.sql))), exact };
}

/** A question in SQL that never is null; null where the columns do not know the answer. */
function testSql(test: Test, setup: Setup, now: number): Sql | null {
  const { field } = test;
  const asks = compileTest(test);
  const text = TEXTS[field];
  if (text) return textSql(test, raw.ref(`leads.${text}`));
  const number = NUMBERS[field];
  if (number) return numberSql(test, raw.ref(`leads.${number}`));
  const since = DAYS[field];
  if (since) return daysSql(test, raw.ref(`leads.${since}`), now);
  const { sources, policies } = setup;
  switch (field) {
    case "source":
      return among(
        "sourceId",
        sources.map((s) => [s.id, s.key]),
        asks,
      );
    case "channel":
      return among(
        "sourceId",
        sources.map((s) => [s.id, s.channel]),
        asks,
      );
    case "country":
      return among(
        "territory",
        policies.territories.map((t) => [fold(t.key), t.country]),
        asks,
      );
    case "owner":
      // Ids are our own: plain letters and digits, which the database folds as core does.
      return textSql(test, raw`lower(leads."ownerId")`);
    case "reached":
      return either([1, 0].map((is) => both([raw`leads.reached = ${is}`, truth(asks(is ? "yes" : "no"))])));
    case "came-before":
      return either([
        both([raw`leads.inquiries > 1`, truth(asks("yes"))]),
        both([raw`leads.inquiries <= 1`, truth(asks("no"))]),
      ]);
    case "state":
      return textSql(test, raw.ref("leads.place"));
    case "time-of-day":
      return truth(asks(clockTime(now, policies.desk.zone)));
    case "weekday":
      return truth(asks(weekdayName(now, policies.desk.zone)));
    case "first-came":
      return dateSql(test, raw.ref("leads.createdAt"), policies.desk.zone);
    case "tag":
      return tagsSql(test);
    case "cadence":
      return cadenceSql(test);
    default:
      return null;
  }
}

/** A column whose raw values each have an answer of the set-up's: those that hold, and, where nothing does, the rest. */
function among(
  column: string,
  answers: readonly (readonly [string, FieldValue])[],
  asks: (answer: FieldValue) => boolean,
): Sql {
  const known = new Map<string, FieldValue>();
  for (const [value, answer] of answers) if (!known.has(value)) known.set(value, answer);
  const ref = raw.ref(`leads.${column}`);
  const fit = [...known].filter(([, answer]) => asks(answer)).map(([value]) => value);
  const unfit = [...known].filter(([, answer]) => !asks(answer)).map(([value]) => value);
  return asks(null) ? not(isOne(ref, unfit)) : isOne(ref, fit);
}

/** Whether something is known at all, where that is what is asked; null where it is not. */
function knownSql({ is }: Test, column: Expression<unknown>): Sql | null {
  if (is === "known") return raw`${column} is not null`;
  return is === "unknown" ? raw`${column} is null` : null;
}

/** Whether a column is one of these; never null. */
const isOne = (column: Expression<unknown>, values: readonly (string | number)[]): Sql =>
  values.length === 0 ? FALSE : raw<SqlBool>`(${column} is not null and ${column} in (${raw.join(values)}))`;

function textSql(test: Test, column: Expression<unknown>): Sql | null {
  const known = knownSql(test, column);
  if (known) return known;
  const want = wanted(test);
  const some = (each: (want: string) => Sql) =>
    both([raw`${column} is not null`, either(want.map((w) => each(w)))]);
  switch (test.is) {
    case "equal":
    case "one-of":
      return isOne(column, want);
    case "not-equal":
      return not(isOne(column, want));
    case "contains":
      return some((w) => raw`instr(${column}, ${w}) > 0`);
    case "starts-with":
      return some((w) => raw`substr(${column}, 1, length(${w})) = ${w}`);
    default:
      return null;
  }
}

function numberSql(test: Test, column: Expression<unknown>): Sql | null {
  const known = knownSql(test, column);
  if (known) return known;
  const bound = Number(test.value);
  // Equal is compared as text: what a number is never written as equals none.
  const exactly = wanted(test)
    .filter((w) => String(Number(w)) === w)
    .map(Number);
  switch (test.is) {
    case "equal":
      return isOne(column, exactly);
    case "not-equal":
      return not(isOne(column, exactly));
    case "at-least":
      return Number.isFinite(bound) ? raw`(${column} is not null and ${column} >= ${bound})` : null;
    case "at-most":
      return Number.isFinite(bound) ? raw`(${column} is not null and ${column} <= ${bound})` : null;
    default:
      return null;
  }
}

/** So many days are a time: asked of the time, so that an index can answer. */
function daysSql(test: Test, column: Expression<unknown>, now: number): Sql | null {
  const known = knownSql(test, column);
  if (known) return known;
  const bound = Number(test.value);
  const atLeast = (days: number) =>
    raw<SqlBool>`(${column} is not null and ${column} <= ${now - days * DAY})`;
  const atMost = (days: number) =>
    raw<SqlBool>`(${column} is not null and ${column} > ${now - (days + 1) * DAY})`;
  switch (test.is) {
    case "at-least":
      return Number.isFinite(bound) ? atLeast(Math.ceil(bound)) : null;
    case "at-most":
      return Number.isFinite(bound) ? atMost(Math.floor(bound)) : null;
    case "equal":
    case "not-equal": {
      const one = either(
        wanted(test)
          .filter((w) => /^-?\d+$/.test(w) && String(Number(w)) === w)
          .map((w) => both([atLeast(Number(w)), atMost(Number(w))])),
      );
      return test.is === "equal" ? one : not(one);
    }
    default:
      return null;
  }
}

/** A local date is a time: null where a clock change lies so that dates go back and forth about it. */
function dateSql(test: Test, column: Expression<unknown>, zone: string): Sql | null {
  if (test.is === "known") return TRUE;
  if (test.is === "unknown") return FALSE;
  const [date] = wanted(test);
  const from = date === undefined ? null : dateBegins(date, zone);
  if (from === null || (test.is !== "from" && test.is !== "before")) return null;
  return test.is === "from" ? raw`${column} >= ${from}` : raw`${column} < ${from}`;
}

function tagsSql(test: Test): Sql | null {
  const column = raw.ref("leads.tags");
  const known = knownSql(test, column);
  if (known) return known;
  const want = wanted(test);
  if (want.some((w) => w.includes(SEPARATOR))) return null;
  const one = both([
    raw`${column} is not null`,
    either(want.map((w) => raw`instr(${column}, ${SEPARATOR + w + SEPARATOR}) > 0`)),
  ]);
  switch (test.is) {
    case "equal":
    case "one-of":
      return one;
    case "not-equal":
      return not(one);
    default:
      return null;
  }
}

function cadenceSql(test: Test): Sql | null {
  const inOne = (of: Sql) =>
    raw<SqlBool>`exists (select 1 from "cadenceLeads" where "cadenceLeads"."leadId" = leads.id and ${of})`;
  const one = () => inOne(raw`lower("cadenceLeads"."cadenceId") in (${raw.join([...wanted(test)])})`);
  switch (test.is) {
    case "known":
      return inOne(TRUE);
    case "unknown":
      return not(inOne(TRUE));
    case "equal":
    case "one-of":
      return one();
    case "not-equal":
      return not(one());
    default:
      return null;
  }
}
