import type { Desk } from "../../server/desk.ts";
import type { Backups } from "../wire/access-schemas.ts";

const iso = (at: number) => new Date(at).toISOString();

/** The backups there are, and how they are made. */
export function toBackups({ setup, backups }: Desk): Backups {
  const { on, time, keep } = setup.policies.backups;
  const { last, nextDue } = backups;
  return {
    on,
    time,
    keep: { ...keep },
    sealed: backups.isSealed,
    away: backups.away,
    place: backups.place,
    nextAt: on && Number.isFinite(nextDue) ? iso(nextDue) : null,
    last: last && { ...last, at: iso(last.at) },
    items: backups.all().map(({ name, manifest: { at, sealed, leads, events, files, bytes } }) => ({
      name,
      at: iso(at),
      sealed,
      leads,
      events,
      files: files.length,
      bytes,
    })),
  };
}
