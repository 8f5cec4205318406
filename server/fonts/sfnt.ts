import { inflateSync } from "node:zlib";

/** Sizes in bytes of a WOFF header, of an entry of its table directory, and of the same in an sfnt. */
const HEAD = 44;
const ENTRY = 20;
const SFNT_HEAD = 12;
const SFNT_ENTRY = 16;

const padded = (length: number) => (length + 3) & ~3;

/**
 * A font as it was before it was packed for the web: its tables inflated once, so that whoever prints with it need not do
 * it again for every letter. Source: WOFF File Format 1.0 (W3C), sections 4 and 5, and the OpenType table directory.
 * @throws when it is no WOFF 1.0 file.
 */
export function unpackWoff(woff: Buffer): Buffer {
  if (woff.toString("latin1", 0, 4) !== "wOFF") throw new Error("This is no WOFF file.");
  const count = woff.readUInt16BE(12);
  const tables = Array.from({ length: count }, (_, i) => {
    const at = HEAD + i * ENTRY;
    const [offset, packed, length] = [4, 8, 12].map((n) => woff.readUInt32BE(at + n)) as [
      number,
      number,
      number,
    ];
    const bytes = woff.subarray(offset, offset + packed);
    return {
      tag: woff.subarray(at, at + 4),
      checksum: woff.readUInt32BE(at + 16),
      bytes: packed < length ? inflateSync(bytes, { maxOutputLength: length }) : bytes,
    };
  });
  const start = SFNT_HEAD + count * SFNT_ENTRY;
  const out = Buffer.alloc(start + tables.reduce((sum, t) => sum + padded(t.bytes.length), 0));
  const log = Math.floor(Math.log2(count));
  out.writeUInt32BE(woff.readUInt32BE(4), 0);
  out.writeUInt16BE(count, 4);
  out.writeUInt16BE(2 ** log * SFNT_ENTRY, 6);
  out.writeUInt16BE(log, 8);
  out.writeUInt16BE(count * SFNT_ENTRY - 2 ** log * SFNT_ENTRY, 10);
  let to = start;
  tables.forEach(({ tag, checksum, bytes }, i) => {
    const at = SFNT_HEAD + i * SFNT_ENTRY;
    tag.copy(out, at);
    out.writeUInt32BE(checksum, at + 4);
    out.writeUInt32BE(to, at + 8);
    out.writeUInt32BE(bytes.length, at + 12);
    bytes.copy(out, to);
    to += padded(bytes.length);
  });
  return out;
}
