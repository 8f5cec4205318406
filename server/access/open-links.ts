import { createHash, randomBytes } from "node:crypto";
import type { Selectable } from "kysely";
import { RateLimiterMemory } from "rate-limiter-flexible";
import type { Person } from "../../core/policy/people.ts";
import { personOf } from "../../core/policy/setup.ts";
import type { OpenLinkRow } from "../db/schema.ts";
import type { Engine } from "../engine/engine.ts";
import type { Office } from "../setup/office.ts";

export type OpenLink = Selectable<OpenLinkRow>;

/** So many one person may have at a time. */
const MOST = 50;
/** How exactly it is kept when one was last used (ms). */
const MINUTE = 60_000;
/** So often one is fetched within so many seconds: calendars and spreadsheets look every few minutes. */
const FETCHES = { points: 30, duration: 60 };

const hashOf = (token: string) => createHash("sha256").update(token).digest("base64url");

/**
 * Secret addresses from which other programs fetch without signing in: a calendar, a list as a file. Shown once, kept as a hash,
 * revoked at any time; what they give is what whoever made them may see, at that moment.
 */
export class OpenLinks {
  readonly #desk: Engine;
  readonly #office: Office;
  readonly #fetches = new RateLimiterMemory(FETCHES);

  constructor(desk: Engine, office: Office) {
    this.#desk = desk;
    this.#office = office;
  }

  /** Make one; null when that person has as many as they may. What is given back is shown once. */
  make(
    personId: string,
    what: Pick<OpenLink, "kind" | "listId" | "format">,
  ): { id: string; url: string } | null {
    const { sql, clock, links, newId } = this.#desk;
    if (this.of(personId).length >= MOST) return null;
    const token = randomBytes(24).toString("base64url");
    const id = newId("link");
    const row = {
      id,
      hash: hashOf(token),
      personId,
      ...what,
      at: clock.now(),
      lastUsedAt: null,
      revokedAt: null,
    };
    sql.transaction(() => {
      sql.run(sql.q.insertInto("openLinks").values(row));
      this.#office.audit(
        personId,
        `a secret link to ${what.kind === "calendar" ? "their calendar" : "a list"}`,
        {
          after: { list: what.listId, format: what.format },
        },
      );
    });
    return { id, url: links.page(`/api/v1/open/${token}`) };
  }

  /** Those somebody has in use, the newest first. */
  of(personId: string): OpenLink[] {
    const { sql } = this.#desk;
    const all = sql.q.selectFrom("openLinks").selectAll().where("personId", "=", personId);
    return sql.all(all.where("revokedAt", "is", null).orderBy("at", "desc"));
  }

  /** From now on it opens nothing. False when that person has none by that id. */
  revoke(personId: string, id: string): boolean {
    const { sql, clock } = this.#desk;
    const own = sql.q.updateTable("openLinks").set({ revokedAt: clock.now() }).where("id", "=", id);
    return sql.run(own.where("personId", "=", personId).where("revokedAt", "is", null)) > 0;
  }

  /** What a token opens, and for whom; null where it opens nothing: unknown, revoked, or its maker has left. */
  find(token: string): { readonly link: OpenLink; readonly person: Person } | null {
    const { sql, clock, setup, log } = this.#desk;
    const link = sql.get(sql.q.selectFrom("openLinks").selectAll().where("hash", "=", hashOf(token)));
    const person = link && personOf(setup, link.personId);
    if (!link || link.revokedAt !== null || !person || person.left) return null;
    const now = clock.now();
    if (link.lastUsedAt === null || now - link.lastUsedAt > MINUTE)
      try {
        sql.run(sql.q.updateTable("openLinks").set({ lastUsedAt: now }).where("id", "=", link.id));
      } catch (error) {
        log.warn({ err: error }, "when a link was used could not be noted");
      }
    return { link, person };
  }

  /** Seconds to wait before it may be fetched again; 0 when it may be now. */
  async wait(id: string): Promise<number> {
    return this.#fetches.consume(id).then(
      () => 0,
      (refused: { msBeforeNext: number }) => Math.max(1, Math.ceil(refused.msBeforeNext / 1000)),
    );
  }
}
