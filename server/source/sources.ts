import { sql as raw, type SqlBool } from "kysely";
import type { Fields } from "../../core/intake/fields.ts";
import { unmappedFields } from "../../core/intake/guess.ts";
import { isEnvelope, isTrail } from "../../core/policy/field-names.ts";
import type { Mapping } from "../../core/policy/mapping.ts";
import type { Setup } from "../../core/policy/setup.ts";
import type { AdFormLink, Source } from "../../core/policy/source.ts";
import {
  expectedAt,
  expectedBetween,
  quietAt,
  type Rhythm,
  rhythmOf,
  silenceChance,
} from "../../core/report/rhythm.ts";
import type { Clock } from "../clock.ts";
import type { Sql } from "../db/sql.ts";
import type { PayloadReader } from "../intake/payload-reader.ts";

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** How much history a rhythm is made from. */
const HISTORY = 56 * DAY;
/** So many versions of the set-up are looked through for the mappings of a source. */
const MOST_VERSIONS = 500;
/** The largest delivery that is read again to be shown as a sample (bytes). */
const LARGEST_SAMPLE = 65_536;
const TOO_LARGE = "It is too large to be shown as a sample. The original can be downloaded.";

/** What is remembered of a source beside its inquiries. */
interface SourceState {
  /** The last inquiry before the silence that was told of: one silence is told once. */
  readonly toldSince?: number;
  /** Questions of the ad form as fetched last, when they differ from those mapped. */
  readonly questions?: AdFormLink["questions"];
  readonly failure?: { readonly at: number; readonly said: string } | null;
  /** Up to when (epoch ms) everything the ad platform has was fetched. */
  readonly fetchedUpTo?: number;
}

export interface SourceHealth {
  readonly sourceId: string;
  readonly lastAt: number | null;
  readonly total: number;
  /** Inquiries of the last seven days, and of the seven before. */
  readonly week: number;
  readonly weekBefore: number;
  /** What is usual in this hour of the week. */
  readonly usualNow: number;
  /** What would have been expected since the last one, and how likely hearing nothing was then. */
  readonly expectedSince: number;
  readonly silenceChance: number;
  readonly quiet: boolean;
  /** Too young or too rare to have a rhythm. */
  readonly knowsRhythm: boolean;
  readonly unsigned: number;
  readonly quarantined: number;
  readonly failure: string | null;
  /** Questions the ad form has gained or lost since it was mapped. */
  readonly changed: { readonly added: readonly string[]; readonly gone: readonly string[] };
  /** Arrivals of the last 28 days, the oldest first. */
  readonly days: readonly number[];
}

/** What is known of how the sources do. Reads much, writes only what is told of them. */
export class Sources {
  readonly #sql: Sql;
  readonly #clock: Clock;
  readonly #setup: () => Setup;
  readonly #payloads: PayloadReader;
  readonly #rhythms = new Map<string, { readonly madeAt: number; readonly rhythm: Rhythm }>();

  constructor(sql: Sql, clock: Clock, setup: () => Setup, payloads: PayloadReader) {
    this.#sql = sql;
    this.#payloads = payloads;
    this.#clock = clock;
    this.#setup = setup;
  }

  #state(sourceId: string): SourceState {
    const { q } = this.#sql;
    const row = this.#sql.get(
      q.selectFrom("sourceStates").select("stateJson").where("sourceId", "=", sourceId),
    );
    return row ? (JSON.parse(row.stateJson) as SourceState) : {};
  }

  #remember(sourceId: string, change: SourceState): void {
    const stateJson = JSON.stringify({ ...this.#state(sourceId), ...change });
    const { q } = this.#sql;
    const insert = q.insertInto("sourceStates").values({ sourceId, stateJson });
    this.#sql.run(insert.onConflict((c) => c.column("sourceId").doUpdateSet({ stateJson })));
  }

  /** When the source was last heard of (epoch ms); tests do not count. */
  lastInquiry(sourceId: string): number | null {
    const { q } = this.#sql;
    const row = this.#sql.get(
      q
        .selectFrom("inquiries")
        .select((eb) => eb.fn.max("receivedAt").as("at"))
        .where("sourceId", "=", sourceId)
        .where("test", "=", 0),
    );
    return row?.at ?? null;
  }

  /** Whether anything has come in by itself, tests included. */
  hasInquired(): boolean {
    const outside = this.#setup()
      .sources.filter((s) => s.channel !== "hand")
      .map((s) => s.id);
    const { q } = this.#sql;
    const any = q.selectFrom("inquiries").select("id").where("sourceId", "in", outside).limit(1);
    return outside.length > 0 && this.#sql.get(any) !== undefined;
  }

  /** How many inquiries it has brought. */
  count(sourceId: string): number {
    const { q } = this.#sql;
    const n = q.selectFrom("arrivals").select((eb) => eb.fn.sum<number>("n").as("n"));
    return Number(this.#sql.get(n.where("sourceId", "=", sourceId))?.n ?? 0);
  }

  #hourly(sourceId: string, from: number): Map<number, number> {
    const { q } = this.#sql;
    const rows = q.selectFrom("arrivals").select(["hour", "n"]).where("sourceId", "=", sourceId);
    return new Map(this.#sql.all(rows.where("hour", ">=", from)).map((r) => [r.hour, r.n]));
  }

  /** The source's usual rhythm up to its last inquiry: a silence must not teach that silence is usual. */
  rhythm(sourceId: string): Rhythm {
    const now = this.#clock.now();
    const known = this.#rhythms.get(sourceId);
    if (known && now - known.madeAt < HOUR && now >= known.madeAt) return known.rhythm;
    const to = this.lastInquiry(sourceId) ?? now;
    const hourly = this.#hourly(sourceId, to - HISTORY);
    const first = Math.min(to, ...hourly.keys());
    const rhythm = rhythmOf(hourly, Math.max(first, to - HISTORY), to, this.#setup().policies.desk.zone);
    this.#rhythms.set(sourceId, { madeAt: now, rhythm });
    return rhythm;
  }

  /** Whether a source has been silent for longer than its rhythm allows. */
  isQuiet(sourceId: string, now: number): boolean {
    return (this.quietAt(sourceId) ?? Number.POSITIVE_INFINITY) <= now;
  }

  /** When the source will count as gone quiet if nothing comes (epoch ms); null when it has no rhythm. */
  quietAt(sourceId: string): number | null {
    const last = this.lastInquiry(sourceId);
    return last === null ? null : quietAt(this.rhythm(sourceId), last);
  }

  health(source: Source, unsigned: number): SourceHealth {
    const now = this.#clock.now();
    const { q } = this.#sql;
    const lastAt = this.lastInquiry(source.id);
    const rhythm = this.rhythm(source.id);
    const hourly = this.#hourly(source.id, now - 28 * DAY);
    const between = (from: number, to: number) => {
      let sum = 0;
      for (const [hour, n] of hourly) if (hour >= from && hour < to) sum += n;
      return sum;
    };
    const expectedSince = lastAt === null ? 0 : expectedBetween(rhythm, lastAt, now);
    const quiet = lastAt !== null && (quietAt(rhythm, lastAt) ?? Number.POSITIVE_INFINITY) <= now;
    const waiting = q.selectFrom("inquiries").select((eb) => eb.fn.countAll<number>().as("n"));
    const state = this.#state(source.id);
    return {
      sourceId: source.id,
      lastAt,
      total: this.count(source.id),
      week: between(now - 7 * DAY, now),
      weekBefore: between(now - 14 * DAY, now - 7 * DAY),
      usualNow: expectedAt(rhythm, now),
      expectedSince,
      silenceChance: silenceChance(expectedSince),
      quiet: quiet && source.state === "live",
      knowsRhythm: lastAt !== null && quietAt(rhythm, lastAt) !== null,
      unsigned,
      quarantined: Number(
        this.#sql.get(waiting.where("state", "=", raw.lit("quarantined")).where("sourceId", "=", source.id))
          ?.n ?? 0,
      ),
      failure: state.failure?.said ?? null,
      changed: changedQuestions(source, state.questions),
      days: Array.from({ length: 28 }, (_, i) => between(now - (28 - i) * DAY, now - (27 - i) * DAY)),
    };
  }

  /** The form's questions as fetched now: a difference from those mapped is remembered and shown. */
  noteQuestions(source: Source, questions: AdFormLink["questions"]): void {
    this.#remember(source.id, { questions });
  }

  /** The questions of the source's ad form as fetched last. */
  questions(source: Source): AdFormLink["questions"] | null {
    return this.#state(source.id).questions ?? null;
  }

  noteFetched(sourceId: string, upTo: number): void {
    this.#remember(sourceId, { fetchedUpTo: upTo });
  }

  /**
   * From when on something may have been missed (epoch ms): since it was last fetched, whatever has been delivered
   * meanwhile; before it ever was, since the last inquiry.
   */
  missedSince(sourceId: string): number {
    return this.#state(sourceId).fetchedUpTo ?? this.lastInquiry(sourceId) ?? 0;
  }

  noteFailure(sourceId: string, said: string | null): void {
    if ((this.#state(sourceId).failure?.said ?? null) === said) return;
    this.#remember(sourceId, { failure: said === null ? null : { at: this.#clock.now(), said } });
  }

  /** Whether this silence has been told of already; remembers that it is now. */
  tellOnce(sourceId: string, lastAt: number): boolean {
    if (this.#state(sourceId).toldSince === lastAt) return false;
    this.#remember(sourceId, { toldSince: lastAt });
    return true;
  }

  wasTold(sourceId: string, lastAt: number): boolean {
    return this.#state(sourceId).toldSince === lastAt;
  }

  /** The last deliveries of a source as named answers, the newest first: what a mapping is made against. */
  async samples(
    sourceId: string,
    limit = 12,
  ): Promise<{ id: string; at: number; state: string; fields: Fields; unreadable: string | null }[]> {
    const { q } = this.#sql;
    // A sample that is large is no sample: it is handed out whole elsewhere.
    const small = raw<Buffer | null>`case when length(raw) <= ${raw.lit(LARGEST_SAMPLE)} then raw end`;
    const rows = this.#sql.all(
      q
        .selectFrom("inquiries")
        .select(["id", "receivedAt", "contentType", "headersJson", "state", small.as("small")])
        .where("sourceId", "=", sourceId)
        .orderBy("receivedAt", "desc")
        .limit(limit),
    );
    return Promise.all(
      rows.map(async ({ id, receivedAt: at, state, contentType, headersJson, small }) => {
        if (!small) return { id, at, state, fields: {}, unreadable: TOO_LARGE };
        const headers = JSON.parse(headersJson) as Record<string, string>;
        const parsed = await this.#payloads.read({ contentType, headers, raw: small });
        return {
          id,
          at,
          state,
          fields: parsed.ok ? shownFields(parsed.fields) : {},
          unreadable: parsed.ok ? null : parsed.reason,
        };
      }),
    );
  }

  /** Fields that the last deliveries brought and no mapping or guess knows, with how many of them had it. */
  async unmapped(source: Source): Promise<{ field: string; times: number }[]> {
    const times = new Map<string, number>();
    for (const { fields } of await this.samples(source.id, 20))
      for (const field of unmappedFields(source.mapping, fields))
        if (!isTrail(field)) times.set(field, (times.get(field) ?? 0) + 1);
    return [...times].map(([field, n]) => ({ field, times: n })).sort((a, b) => b.times - a.times);
  }

  /** Every mapping the source has had, the newest first, with when and by whom. */
  mappings(sourceId: string): { version: number; at: number; by: string | null; mapping: Mapping }[] {
    const { q } = this.#sql;
    const found = new Map<number, { version: number; at: number; by: string | null; mapping: Mapping }>();
    // Taken out of each version by the database: reading them all whole takes their size times their number.
    const one = raw<string | null>`(
      select json_extract(source.value, '$.mapping') from json_each(setupJson, '$.sources') as source
      where json_extract(source.value, '$.id') = ${sourceId})`;
    const versions = q
      .selectFrom("setup")
      .select(["at", "by", one.as("mappingJson")])
      .where(raw<SqlBool>`json_valid(setupJson)`)
      .orderBy("version", "desc")
      .limit(MOST_VERSIONS);
    for (const { at, by, mappingJson } of this.#sql.all(versions)) {
      const mapping = mappingJson ? (JSON.parse(mappingJson) as Mapping) : null;
      // The oldest that has it is when it was made.
      if (mapping) found.set(mapping.version, { version: mapping.version, at, by, mapping });
    }
    return [...found.values()].sort((a, b) => b.version - a.version);
  }
}

/** What arrived without the parts that only describe the delivery. */
export function shownFields(fields: Fields): Fields {
  return Object.fromEntries(Object.entries(fields).filter(([name]) => !isEnvelope(name)));
}

function changedQuestions(source: Source, now: AdFormLink["questions"] | undefined): SourceHealth["changed"] {
  if (!now || !source.adForm) return { added: [], gone: [] };
  const mapped = source.adForm.questions.map((q) => q.field);
  const fresh = now.map((q) => q.field);
  return {
    added: fresh.filter((f) => !mapped.includes(f)),
    gone: mapped.filter((f) => !fresh.includes(f)),
  };
}
