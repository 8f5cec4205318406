import { inflateRawSync } from "node:zlib";

/** What stands in a ZIP archive, by name, read by its central directory. Source: PKWARE's APPNOTE 4.3 (4.3.7, 4.3.12, 4.3.16). */
export function unzip(archive: Buffer): Map<string, Buffer> {
  const end = archive.lastIndexOf(Buffer.from([0x50, 0x4b, 0x05, 0x06]));
  const files = new Map<string, Buffer>();
  let at = archive.readUInt32LE(end + 16);
  for (let n = archive.readUInt16LE(end + 10); n > 0; n--) {
    const [method, packed] = [archive.readUInt16LE(at + 10), archive.readUInt32LE(at + 20)];
    const [name, extra, comment] = [28, 30, 32].map((field) => archive.readUInt16LE(at + field)) as [
      number,
      number,
      number,
    ];
    const head = archive.readUInt32LE(at + 42);
    const from = head + 30 + archive.readUInt16LE(head + 26) + archive.readUInt16LE(head + 28);
    const bytes = archive.subarray(from, from + packed);
    files.set(
      archive.toString("utf8", at + 46, at + 46 + name),
      method === 8 ? inflateRawSync(bytes) : bytes,
    );
    at += 46 + name + extra + comment;
  }
  return files;
}
