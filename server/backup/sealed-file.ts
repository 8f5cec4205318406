import { createCipheriv, createDecipheriv, createHash, randomBytes, scryptSync } from "node:crypto";
import {
  closeSync,
  createReadStream,
  createWriteStream,
  fsyncSync,
  openSync,
  readSync,
  statSync,
} from "node:fs";
import { PassThrough, Readable, Transform, type TransformCallback } from "node:stream";
import { pipeline } from "node:stream/promises";
import { createGunzip, createGzip } from "node:zlib";

/**
 * A file of a backup: four letters of what it is, a byte that says whether it is sealed, then gzip (RFC 1952), whole or inside
 * AES-256-GCM (NIST SP 800-38D) with its nonce before and its tag behind.
 */
const MAGIC = Buffer.from("KBB1");
const PLAIN = 0;
const SEALED = 1;
const NONCE = 12;
const TAG = 16;
const HEAD = MAGIC.length + 1;

/** Thrown where a file of a backup can't be read, with why in words. */
export class BadBackup extends Error {}

/** The key a passphrase stands for, with a salt of its own for each place of backups (scrypt, RFC 7914: 64 MB, a tenth of a second). */
export const keyOf = (passphrase: string, salt: Buffer): Buffer =>
  scryptSync(passphrase.normalize("NFC"), salt, 32, { N: 2 ** 16, r: 8, p: 1, maxmem: 128 * 2 ** 20 });

/** Passes bytes on, and knows their SHA-256 in the end. */
class Hashed extends Transform {
  readonly #hash = createHash("sha256");
  bytes = 0;

  override _transform(chunk: Buffer, _encoding: BufferEncoding, done: TransformCallback): void {
    this.#hash.update(chunk);
    this.bytes += chunk.length;
    done(null, chunk);
  }

  sum(): string {
    return this.#hash.digest("hex");
  }
}

/** Write what comes as a file of a backup; it is on the disk when this resolves. Gives its SHA-256, and that of what came. */
export async function writeSealed(
  from: Readable,
  path: string,
  key: Buffer | null,
): Promise<{ readonly sum: string; readonly plainSum: string; readonly bytes: number }> {
  const [plain, whole] = [new Hashed(), new Hashed()];
  const nonce = randomBytes(NONCE);
  const cipher = key && createCipheriv("aes-256-gcm", key, nonce);
  whole.write(Buffer.concat([MAGIC, Buffer.from([cipher ? SEALED : PLAIN])]));
  if (cipher) whole.write(nonce);
  // The tag is known once all has gone through.
  const tagged = new PassThrough({
    flush(done) {
      if (cipher) this.push(cipher.getAuthTag());
      done();
    },
  });
  await pipeline([
    from,
    plain,
    createGzip({ level: 6 }),
    ...(cipher ? [cipher] : []),
    tagged,
    whole,
    createWriteStream(path),
  ]);
  const handle = openSync(path, "r+");
  try {
    fsyncSync(handle);
  } finally {
    closeSync(handle);
  }
  return { sum: whole.sum(), plainSum: plain.sum(), bytes: whole.bytes };
}

/** What a file of a backup holds. Reading fails where a byte of it is another. @throws BadBackup when it is none, or can't be opened with the key. */
export function readSealed(path: string, key: Buffer | null): Readable {
  const { size } = statSync(path);
  const head = Buffer.alloc(HEAD + NONCE);
  const handle = openSync(path, "r");
  const tag = Buffer.alloc(TAG);
  try {
    readSync(handle, head, 0, head.length, 0);
    readSync(handle, tag, 0, TAG, Math.max(0, size - TAG));
  } finally {
    closeSync(handle);
  }
  if (!head.subarray(0, MAGIC.length).equals(MAGIC)) throw new BadBackup("It is no file of a backup.");
  const isSealed = head[MAGIC.length] === SEALED;
  if (!isSealed) return chained(createReadStream(path, { start: HEAD }), [createGunzip()]);
  if (!key) throw new BadBackup("It is sealed: give its passphrase.");
  if (size < HEAD + NONCE + TAG) throw new BadBackup("It is cut off.");
  const open = createDecipheriv("aes-256-gcm", key, head.subarray(HEAD, HEAD + NONCE));
  open.setAuthTag(tag);
  const from = createReadStream(path, { start: HEAD + NONCE, end: size - TAG - 1 });
  return chained(from, [open, createGunzip()]);
}

/** What comes out of a chain; what goes wrong in it, in words. */
function chained(from: Readable, steps: Transform[]): Readable {
  async function* opened(): AsyncGenerator<Buffer> {
    const end = new PassThrough();
    // What goes wrong is told by the end itself.
    pipeline([from, ...steps, end]).catch(() => {});
    try {
      for await (const chunk of end) yield chunk as Buffer;
    } catch (error) {
      throw asBad(error as Error);
    }
  }
  return Readable.from(opened());
}

const asBad = (error: Error): Error =>
  /auth|zlib|incorrect|invalid|unexpected end/i.test(error.message)
    ? new BadBackup("It is damaged, or the passphrase is another one.", { cause: error })
    : error;
