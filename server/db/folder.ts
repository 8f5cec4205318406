import {
  accessSync,
  constants,
  existsSync,
  mkdirSync,
  readFileSync,
  rmSync,
  statfsSync,
  statSync,
  writeFileSync,
} from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import { writeWhole } from "../files/write-whole.ts";
import { type DiskTrouble, troubleOf } from "./sql.ts";

/** The database in a data folder. */
export const DATABASE = "kite-bell.db";
const LOCK = "kite-bell.lock";
const OWNER = "kite-bell.owner";
const MARK = "kite-bell.json";
const RESERVE = "kite-bell.reserve";

/** The database as it was before it was last brought to a newer shape. */
export const BEFORE_UPGRADE = "before-upgrade.db";
/** The folder of backups, unless they are put elsewhere. */
export const BACKUPS = "backups";
/** What is known of the desk in a folder, and goes with it; the lock stays with the process. */
export const FOLDER_FILES = [MARK, RESERVE, BEFORE_UPGRADE];

/** Room that is set aside (bytes), to be given free when the desk must start on a full disk; made when there is plenty. */
const RESERVED = 8 * 1_048_576;
const PLENTY = 8 * RESERVED;

/** What the folder knows of the desk in it, beside the database: so that one that is gone is missed. */
interface Mark {
  /** When a desk was first kept here. */
  readonly begun: string;
  /** Whether it was running when this was written: a clean end takes it back. */
  readonly running: boolean;
  /** When everything was last in the file itself and not in its log. */
  readonly wholeAt: string;
}

/** Thrown with a sentence when the folder cannot be worked in. */
export class FolderProblem extends Error {
  constructor(
    said: string,
    /** What the disk has to do with it; null when it is about something else. */
    readonly kind: DiskTrouble["kind"] | null = null,
  ) {
    super(said);
  }
}

/**
 * A data folder that this process has to itself. It knows that a desk was kept in it, and refuses to begin another in its
 * place when the database is gone.
 */
export class Folder {
  readonly path: string;
  readonly #lock: Database.Database;
  readonly #begun: string;
  /** Since when what was written may be missing, when the database's log was lost; null when it was not. */
  readonly lostSince: string | null;

  private constructor(path: string, lock: Database.Database, mark: Mark | null) {
    this.path = path;
    this.#lock = lock;
    this.#begun = mark?.begun ?? new Date().toISOString();
    this.lostSince = mark?.running && !existsSync(join(path, `${DATABASE}-wal`)) ? mark.wholeAt : null;
  }

  /**
   * Take the folder, making it when there is none.
   * @throws FolderProblem when another process has it, it cannot be written to, or the database that was in it is gone.
   */
  static take(path: string): Folder {
    try {
      return Folder.#takeNow(path);
    } catch (error) {
      const reserve = join(path, RESERVE);
      if (!(error instanceof FolderProblem) || error.kind !== "full" || !existsSync(reserve)) throw error;
      // A start on a full disk: with the room that was set aside for it.
      rmSync(reserve);
      return Folder.#takeNow(path);
    }
  }

  static #takeNow(path: string): Folder {
    let lock: Database.Database;
    try {
      mkdirSync(path, { recursive: true });
      accessSync(path, constants.W_OK);
      lock = new Database(join(path, LOCK));
    } catch (error) {
      throw unusable(path, error);
    }
    try {
      // The system lets go of this lock whenever the process ends, however it does.
      lock.pragma("busy_timeout = 0");
      lock.exec("BEGIN EXCLUSIVE");
    } catch (error) {
      lock.close();
      if (!String((error as { code?: string }).code).startsWith("SQLITE_BUSY")) throw unusable(path, error);
      throw new FolderProblem(
        `Another Kite Bell works in ${path} (${ownerOf(path)}). Stop it first, or give another folder by KITEBELL_DATA.`,
      );
    }
    try {
      const mark = readMark(path);
      missDatabase(path, mark);
      const folder = new Folder(path, lock, mark);
      try {
        writeFileSync(join(path, OWNER), `process ${process.pid}, since ${new Date().toISOString()}\n`);
      } catch (error) {
        // On a full disk nobody is told who has it; it is had all the same.
        if (troubleOf(error) !== "full") throw unusable(path, error);
      }
      return folder;
    } catch (error) {
      lock.close();
      throw error;
    }
  }

  /** The desk is open and whole on disk: from now on its database is missed when it is gone. Never throws. */
  note(running: boolean): void {
    const mark: Mark = { begun: this.#begun, running, wholeAt: new Date().toISOString() };
    try {
      writeWhole(join(this.path, MARK), Buffer.from(JSON.stringify(mark)));
    } catch {
      // A full disk: the one before stands.
    }
  }

  /** Set room aside for a start on a full disk, where there is plenty. Never throws. */
  reserve(): void {
    const file = join(this.path, RESERVE);
    try {
      const { bavail, bsize } = statfsSync(this.path);
      if (!existsSync(file) && bavail * bsize > PLENTY) writeWhole(file, Buffer.alloc(RESERVED));
    } catch {
      // Then there is none.
    }
  }

  /** Give the room that was set aside free. Says whether there was any. */
  release(): boolean {
    const file = join(this.path, RESERVE);
    const there = existsSync(file);
    rmSync(file, { force: true });
    return there;
  }

  /** Let the folder go, its desk whole and closed. */
  close(): void {
    this.note(false);
    this.letGo();
  }

  /** Let the folder go as it is. */
  letGo(): void {
    this.#lock.close();
  }
}

function unusable(path: string, error: unknown): FolderProblem {
  const kind = troubleOf(error);
  const said = error instanceof Error ? error.message : String(error);
  return new FolderProblem(
    kind === "read-only"
      ? `The folder ${path} can’t be written to (${said}). Give Kite Bell the right to write there, or another folder by KITEBELL_DATA.`
      : `The folder ${path} can’t be used: ${said}.`,
    kind,
  );
}

function ownerOf(path: string): string {
  try {
    return readFileSync(join(path, OWNER), "utf8").trim();
  } catch {
    return "it does not say which";
  }
}

function readMark(path: string): Mark | null {
  try {
    return JSON.parse(readFileSync(join(path, MARK), "utf8")) as Mark;
  } catch {
    return null;
  }
}

/** A desk was kept here and its database is gone, or empty: that is no new desk. */
function missDatabase(path: string, mark: Mark | null): void {
  if (!mark) return;
  const file = join(path, DATABASE);
  const state = !existsSync(file) ? "is missing" : statSync(file).size === 0 ? "is empty" : null;
  if (!state) return;
  throw new FolderProblem(
    `A desk has been kept in ${path} since ${mark.begun}, but its database ${DATABASE} ${state}. ` +
      `Put it back from a copy of the folder. To begin again here all the same, remove ${MARK} as well.`,
  );
}
