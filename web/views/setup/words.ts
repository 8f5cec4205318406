import { dayTime, duration } from "../../../core/time/words.ts";
import type { SourceRow } from "../../wire/setup-schemas.ts";

/** What Set-up says about a source in words. */

export const CHANNELS: Readonly<Record<SourceRow["channel"], string>> = {
  website: "Website form",
  "ad-form": "Ad form",
  call: "Phone line",
  text: "Text line",
  email: "Mailbox",
  chat: "Chat",
  document: "Lead documents",
  spreadsheet: "Spreadsheets",
  hand: "By hand",
};

/** `1.4`, `0.3`, `12`: as few digits as tell something. */
export function few(n: number): string {
  return n >= 10
    ? String(Math.round(n))
    : n === 0
      ? "0"
      : n < 0.1
        ? "under 0.1"
        : n.toFixed(1).replace(/\.0$/, "");
}

/** When it was last heard of. */
export function heardOf({ health }: SourceRow, zone: string, now: number): string {
  if (!health.lastAt) return "never";
  const at = Date.parse(health.lastAt);
  const ago = now - at;
  if (ago < 60_000) return "just now";
  return ago < 86_400_000 ? `${duration(Math.floor(ago / 60_000) * 60_000)} ago` : dayTime(at, zone, now);
}

/** What is usual against what is. */
export function rhythm({ health }: SourceRow): string {
  if (!health.knowsRhythm) return "too few to have a rhythm";
  return `${few(health.usualNow)} an hour at this time of the week`;
}

/** Everything that is wrong or worth knowing, the worst first. */
export function troubles(row: SourceRow): { stops: boolean; said: string }[] {
  const { health, lacks, unmapped } = row;
  const said: { stops: boolean; said: string }[] = [];
  if (health.quiet)
    said.push({
      stops: true,
      said: `Gone quiet: ${few(health.expectedSince)} would have come since; the chance of that is ${health.silenceChance < 0.001 ? "under 0.1" : (health.silenceChance * 100).toFixed(1)} %.`,
    });
  if (health.failure) said.push({ stops: true, said: health.failure });
  if (row.state !== "live" || lacks.some((l) => l.stops)) said.push(...lacks);
  if (health.quarantined > 0) said.push({ stops: false, said: `${health.quarantined} in quarantine` });
  if (health.unsigned > 0)
    said.push({ stops: false, said: `${health.unsigned} refused: not signed by the platform` });
  for (const field of health.changed.added)
    said.push({ stops: false, said: `The form asks something new: ${field}` });
  for (const field of health.changed.gone)
    said.push({ stops: false, said: `The form no longer asks: ${field}` });
  if (unmapped.length > 0)
    said.push({
      stops: false,
      said: `Not mapped, kept as answers: ${unmapped
        .slice(0, 4)
        .map((u) => u.field)
        .join(", ")}${unmapped.length > 4 ? " …" : ""}`,
    });
  return said;
}
