import { createHash, randomBytes } from "node:crypto";
import { SCOPES, type Scope } from "../../core/access/access.ts";
import type { Engine } from "../engine/engine.ts";
import { ACCESS_CHANGED } from "../live/feed.ts";
import type { Office } from "../setup/office.ts";

export interface ApiKey {
  readonly id: string;
  readonly name: string;
  /** Its first letters, to tell keys apart by. */
  readonly start: string;
  readonly scopes: readonly Scope[];
  readonly at: number;
  readonly by: string;
  readonly lastUsedAt: number | null;
  readonly revokedAt: number | null;
}

/** How exactly it is kept when a key was last used (ms): not every call need write. */
const MINUTE = 60_000;

const hashOf = (key: string) => createHash("sha256").update(key).digest("hex");

/** API keys for other programs: made once, shown once, kept as a hash, revoked at any time. */
export class ApiKeys {
  readonly #desk: Engine;
  readonly #office: Office;

  constructor(desk: Engine, office: Office) {
    this.#desk = desk;
    this.#office = office;
  }

  /** Make a key. What is given back is shown once and can't be seen again. */
  make(name: string, scopes: readonly Scope[], by: string): { key: string; id: string } {
    const { sql, clock } = this.#desk;
    const office = this.#office;
    const key = `kb_${randomBytes(24).toString("base64url")}`;
    const id = this.#desk.newId("key");
    const row = {
      id,
      hash: hashOf(key),
      name,
      start: key.slice(0, 7),
      scopesJson: JSON.stringify(scopes),
      at: clock.now(),
      by,
      lastUsedAt: null,
      revokedAt: null,
    };
    sql.transaction(() => {
      sql.run(sql.q.insertInto("apiKeys").values(row));
      office.audit(by, `API key ${name}`, { after: { scopes } });
    });
    return { key, id };
  }

  list(): ApiKey[] {
    const { sql } = this.#desk;
    return sql
      .all(sql.q.selectFrom("apiKeys").selectAll().orderBy("at", "desc"))
      .map(({ hash: _, scopesJson, ...key }) => ({ ...key, scopes: JSON.parse(scopesJson) as Scope[] }));
  }

  /** From now on the key opens nothing. False when there is no such key. */
  revoke(id: string, by: string): boolean {
    const { sql, clock } = this.#desk;
    const office = this.#office;
    return sql.transaction(() => {
      const known = sql.get(
        sql.q.selectFrom("apiKeys").select("name").where("id", "=", id).where("revokedAt", "is", null),
      );
      if (!known) return false;
      sql.run(sql.q.updateTable("apiKeys").set({ revokedAt: clock.now() }).where("id", "=", id));
      office.audit(by, `API key ${known.name}`, { before: "in use", after: "revoked" });
      this.#desk.feed.publish(ACCESS_CHANGED);
      return true;
    });
  }

  /** Whether a key may change anything. */
  writes({ scopes }: ApiKey): boolean {
    return scopes.some((scope) => SCOPES[scope].writes);
  }

  /** When a key was used last is good to know, and no reason to refuse it when the disk is full. */
  #noteUse(id: string, at: number): void {
    const { sql, log } = this.#desk;
    try {
      sql.run(sql.q.updateTable("apiKeys").set({ lastUsedAt: at }).where("id", "=", id));
    } catch (error) {
      log.warn({ err: error }, "when a key was used could not be noted");
    }
  }

  /** The key as it was made, when it is one and was not revoked. */
  find(key: string): ApiKey | null {
    const { sql, clock } = this.#desk;
    const row = sql.get(sql.q.selectFrom("apiKeys").selectAll().where("hash", "=", hashOf(key)));
    if (!row || row.revokedAt !== null) return null;
    const now = clock.now();
    if (row.lastUsedAt === null || now - row.lastUsedAt > MINUTE) this.#noteUse(row.id, now);
    const { hash: _, scopesJson, ...rest } = row;
    const scopes = (JSON.parse(scopesJson) as string[]).filter((s): s is Scope => s in SCOPES);
    return { ...rest, scopes };
  }
}
