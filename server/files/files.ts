import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync } from "node:fs";
import { join } from "node:path";
import type { Attachment } from "../../core/vocabulary.ts";
import type { Clock } from "../clock.ts";
import type { Sql } from "../db/sql.ts";
import { writeWhole } from "./write-whole.ts";

/** A file that is younger may be one that is being kept just now (ms). */
const BEING_WRITTEN = 3_600_000;
/** Types a browser may show in place; everything else is only handed out as a download. */
const SHOWN = /^(audio\/(wav|x-wav|mpeg|ogg|mp4|webm)|image\/(png|jpeg|gif|webp))$/;

/**
 * Files that came with something, kept by the hash of their content: the same file twice is one. In memory for a
 * desk without a folder.
 */
export class Files {
  readonly #folder: string | null;
  readonly #memory = new Map<string, Buffer>();
  readonly #sql: Sql;
  readonly #clock: Clock;

  constructor(folder: string | null, sql: Sql, clock: Clock) {
    this.#folder = folder;
    this.#sql = sql;
    this.#clock = clock;
  }

  /** Keep a file; it is on disk when this returns. `by` is who of ours uploaded it. */
  keep(bytes: Buffer, name: string, type: string, by: string | null = null): Attachment {
    const fileId = createHash("sha256").update(bytes).digest("hex");
    if (this.#folder) this.#write(fileId, bytes);
    else this.#memory.set(fileId, bytes);
    const { q } = this.#sql;
    const row = { id: fileId, type: cleanType(type), size: bytes.length, at: this.#clock.now(), by };
    this.#sql.run(
      q
        .insertInto("files")
        .values(row)
        .onConflict((c) => c.doNothing()),
    );
    return { fileId, name: cleanName(name), type: row.type, size: bytes.length };
  }

  #path(fileId: string): string {
    return join(this.#folder!, fileId.slice(0, 2), fileId);
  }

  #write(fileId: string, bytes: Buffer): void {
    const path = this.#path(fileId);
    if (existsSync(path)) return;
    mkdirSync(join(this.#folder!, fileId.slice(0, 2)), { recursive: true });
    writeWhole(path, bytes);
  }

  /** Who of ours uploaded a file, and the leads it came or went with. */
  belongsTo(fileId: string): { readonly by: string | null; readonly leadIds: readonly string[] } {
    const { q } = this.#sql;
    const row = this.#sql.get(q.selectFrom("files").select("by").where("id", "=", fileId));
    const leads = q.selectFrom("fileLeads").select("leadId").where("fileId", "=", fileId);
    return { by: row?.by ?? null, leadIds: this.#sql.all(leads).map((l) => l.leadId) };
  }

  /** The file, or null when there is none by that id. */
  read(fileId: string): { bytes: Buffer; type: string } | null {
    if (!/^[0-9a-f]{64}$/.test(fileId)) return null;
    const row = this.#sql.get(this.#sql.q.selectFrom("files").select("type").where("id", "=", fileId));
    if (!row) return null;
    if (!this.#folder) return { bytes: this.#memory.get(fileId)!, type: row.type };
    const path = this.#path(fileId);
    return existsSync(path) ? { bytes: readFileSync(path), type: row.type } : null;
  }

  /** Forget files, inside the caller's transaction; they are taken away after it ({@link remove}), or the next time somebody sweeps. */
  forget(fileIds: readonly string[]): void {
    for (const id of fileIds) this.#sql.run(this.#sql.q.deleteFrom("files").where("id", "=", id));
  }

  /** Take away what lies here and is known to nobody, as a kill leaves it. What is being written just now is left. Gives how many. */
  sweep(): number {
    if (!this.#folder || !existsSync(this.#folder)) return 0;
    const known = new Set(this.#sql.all(this.#sql.q.selectFrom("files").select("id")).map((f) => f.id));
    let swept = 0;
    for (const part of readdirSync(this.#folder))
      for (const name of readdirSync(join(this.#folder, part))) {
        const path = join(this.#folder, part, name);
        if (known.has(name) || Date.now() - statSync(path).mtimeMs < BEING_WRITTEN) continue;
        rmSync(path, { force: true });
        swept++;
      }
    return swept;
  }

  /** Take a file that was forgotten from the disk. Nothing happens where there is none. */
  remove(fileId: string): void {
    if (this.#folder) rmSync(this.#path(fileId), { force: true });
    else this.#memory.delete(fileId);
  }

  /** Where the file lies, for workers that read it themselves; null for a desk in memory. */
  pathOf(fileId: string): string | null {
    return this.#folder ? this.#path(fileId) : null;
  }
}

/** Whether a browser may show the type in place. */
export function isShown(type: string): boolean {
  return SHOWN.test(type);
}

function cleanType(type: string): string {
  const bare = type.split(";")[0]!.trim().toLowerCase();
  return /^[a-z0-9.+-]+\/[a-z0-9.+-]+$/.test(bare) ? bare : "application/octet-stream";
}

/** A name that is only a name: no folders, no control characters, not endless. */
export function cleanName(name: string): string {
  const bare = name
    .replace(/^.*[\\/]/, "")
    // biome-ignore lint/suspicious/noControlCharactersInRegex: they are what must go
    .replace(/[\u0000-\u001f\u007f"<>|:*?]/g, "")
    .trim();
  return (
    (bare.length > 120 ? `${bare.slice(0, 100)}…${bare.slice(-16)}` : bare).replace(/^\.+/, "") || "file"
  );
}
