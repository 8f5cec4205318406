import type { z } from "zod";
import type { OpenLink } from "../../server/access/open-links.ts";
import type { Desk } from "../../server/desk.ts";
import type * as wire from "../wire/outside-schemas.ts";
import { problem } from "./endpoint.ts";

const iso = (at: number) => new Date(at).toISOString();

/** A secret link as its maker sees it: never its address, which is shown once. */
export function toOpenLink(
  link: OpenLink,
  name: (listId: string) => string | null,
): z.infer<typeof wire.OpenLink> {
  const { id, kind, listId, format, at, lastUsedAt } = link;
  return {
    id,
    kind,
    list: listId === null ? null : { id: listId, name: name(listId) ?? "a list that is gone" },
    format,
    at: iso(at),
    lastUsedAt: lastUsedAt === null ? null : iso(lastUsedAt),
  };
}

/** A new secret link, or that there are too many. */
export const madeLink = (
  desk: Desk,
  personId: string,
  what: Parameters<Desk["openLinks"]["make"]>[1],
): { id: string; url: string } | Response =>
  desk.openLinks.make(personId, what) ??
  problem("too-many-links", 409, "Too many links", "50 are the most. Revoke one that is not used any more.");
