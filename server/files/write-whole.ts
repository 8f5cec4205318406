import { closeSync, fsyncSync, openSync, renameSync, rmSync, writeSync } from "node:fs";

/**
 * Write a file aside and move it: under its name it is whole, and on the disk. What was begun is removed when it fails.
 * @throws what the file system throws.
 */
export function writeWhole(path: string, bytes: Buffer): void {
  const aside = `${path}.${process.pid}.part`;
  try {
    const handle = openSync(aside, "w");
    try {
      writeSync(handle, bytes);
      fsyncSync(handle);
    } finally {
      closeSync(handle);
    }
    renameSync(aside, path);
  } catch (error) {
    rmSync(aside, { force: true });
    throw error;
  }
}
