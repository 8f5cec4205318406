import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import { buffer } from "node:stream/consumers";
import { gunzipSync } from "node:zlib";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { Draws } from "../../core/statistics/draws.ts";
import { BadBackup, keyOf, readSealed, writeSealed } from "./sealed-file.ts";

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "kite-bell-sealed-"));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const text = Buffer.from(Array.from({ length: 5_000 }, (_, i) => `Line ${i}: Ana Ruiz\n`).join(""));
const key = keyOf("correct horse", Buffer.alloc(16, 7));
const write = (into: string, with_: Buffer | null, what = text) =>
  writeSealed(Readable.from([what]), join(folder, into), with_);
const read = (name: string, with_: Buffer | null) => buffer(readSealed(join(folder, name), with_));

describe("a file of a backup", () => {
  it.each([
    ["plain", null],
    ["sealed", key],
  ] as const)("%s, says again what went into it, of any size", async (name, with_) => {
    for (const what of [text, Buffer.alloc(0), Buffer.from("x")]) {
      const { bytes } = await write(name, with_, what);
      expect(bytes).toBe(statSync(join(folder, name)).size);
      expect(await read(name, with_)).toEqual(what);
    }
  });

  it("plain, is gzip behind its head; sealed, it shows nothing and opens by its passphrase alone", async () => {
    await write("plain", null);
    expect(gunzipSync(readFileSync(join(folder, "plain")).subarray(5))).toEqual(text);
    await write("sealed", key);
    expect(() => readSealed(join(folder, "sealed"), null)).toThrow("give its passphrase");
    await expect(read("sealed", keyOf("Correct horse", Buffer.alloc(16, 7)))).rejects.toThrow(BadBackup);
    await expect(read("sealed", keyOf("correct horse", Buffer.alloc(16, 8)))).rejects.toThrow(BadBackup);
    writeFileSync(join(folder, "other"), "something else");
    expect(() => readSealed(join(folder, "other"), null)).toThrow("no file of a backup");
  });

  it.each([
    ["plain", null],
    ["sealed", key],
  ] as const)("%s, fails wherever a byte of it is another, or missing", async (name, with_) => {
    await write(name, with_);
    const path = join(folder, name);
    const whole = readFileSync(path);
    const draws = new Draws(1);
    const ends = [0, 4, 5, 16, 17, whole.length - 17, whole.length - 16, whole.length - 1];
    const places = [...ends, ...Array.from({ length: 60 }, () => Math.floor(draws.next() * whole.length))];
    for (const at of places) {
      const changed = Buffer.from(whole);
      changed[at]! ^= 1 << Math.floor(draws.next() * 8);
      writeFileSync(path, changed);
      const told = await Promise.resolve()
        .then(() => read(name, with_))
        .catch((error: unknown) => error);
      // What gzip's own head says of where a file came from changes nothing of what it holds.
      if (name === "plain" && Buffer.isBuffer(told))
        expect([at < 15, told.equals(text)]).toEqual([true, true]);
      else expect([at, told]).toEqual([at, expect.any(Error)]);
    }
    writeFileSync(path, whole.subarray(0, whole.length - 5));
    await expect(read(name, with_)).rejects.toThrow();
  });
});
