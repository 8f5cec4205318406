import { createCipheriv, createDecipheriv, randomBytes } from "node:crypto";
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";

/** The file of the key, in the data folder: a copy of the database alone tells nobody a password. */
export const KEY_FILE = "secrets.key";
const NONCE = 12;
const TAG = 16;

/** Seals what others gave us to use, such as a mail server's password, with a key that lies beside the database. */
export class Sealer {
  readonly #file: string | null;
  #key: Buffer | null = null;

  /** `folder` is the data folder; null for a desk in memory, whose key goes with it. */
  constructor(folder: string | null) {
    this.#file = folder === null ? null : join(folder, KEY_FILE);
  }

  /** The key, made when it is first needed. */
  #own(): Buffer {
    if (this.#key) return this.#key;
    if (this.#file && existsSync(this.#file))
      this.#key = Buffer.from(readFileSync(this.#file, "utf8").trim(), "base64url");
    else {
      this.#key = randomBytes(32);
      if (this.#file) writeFileSync(this.#file, this.#key.toString("base64url"), { mode: 0o600, flag: "wx" });
    }
    return this.#key;
  }

  /** The text sealed (AES-256-GCM), as a line. Throws when no key can be written. */
  seal(text: string): string {
    const nonce = randomBytes(NONCE);
    const cipher = createCipheriv("aes-256-gcm", this.#own(), nonce);
    const sealed = Buffer.concat([cipher.update(text, "utf8"), cipher.final()]);
    return Buffer.concat([nonce, cipher.getAuthTag(), sealed]).toString("base64url");
  }

  /** What a sealed line says; null when it was sealed with another key, or changed since. Never throws. */
  open(line: string): string | null {
    try {
      const bytes = Buffer.from(line, "base64url");
      const decipher = createDecipheriv("aes-256-gcm", this.#own(), bytes.subarray(0, NONCE));
      decipher.setAuthTag(bytes.subarray(NONCE, NONCE + TAG));
      return decipher.update(bytes.subarray(NONCE + TAG), undefined, "utf8") + decipher.final("utf8");
    } catch {
      return null;
    }
  }
}
