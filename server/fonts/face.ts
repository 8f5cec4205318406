import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { unpackWoff } from "./sfnt.ts";

export type Weight = "400" | "700";
/** The files the app's text face comes in, by which letters they hold. */
export const FONT_SETS = ["latin", "latin-ext"] as const;
export type FontSet = (typeof FONT_SETS)[number];
/** What the face calls itself. */
export const FAMILY = "Atkinson Hyperlegible Next";

const files = new Map<string, Buffer>();

/** The app's own text face, as the browser shows it; read once. */
export function fontFile(set: FontSet, weight: Weight): Buffer {
  const name = `@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-${set}-${weight}-normal.woff`;
  let file = files.get(name);
  if (!file) {
    file = unpackWoff(readFileSync(createRequire(import.meta.url).resolve(name)));
    files.set(name, file);
  }
  return file;
}
