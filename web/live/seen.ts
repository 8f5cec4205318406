import { useSyncExternalStore } from "react";
import type { QueueRow } from "../wire/schemas.ts";
import { deskNow } from "./clock.ts";

/** Which arrivals somebody has looked at, as far as this browser knows: what came since and was not opened is new. */

const KEY = "kb_seen";
/** So many are remembered; what came longer ago is no news. */
const MOST = 500;
/** What came longer ago (ms) is no arrival any more. */
const NEWS = 12 * 3_600_000;

/** When each was opened last (epoch ms of the desk), and since when this browser looks. */
interface Seen {
  readonly since: number;
  readonly opened: Readonly<Record<string, number>>;
}

let seen: Seen | null = null;
const listeners = new Set<() => void>();

function read(): Seen {
  if (seen) return seen;
  try {
    seen = JSON.parse(localStorage.getItem(KEY) ?? "") as Seen;
  } catch {
    seen = null;
  }
  // A desk whose clock was set back begins anew: nothing can have been opened later than now.
  if (!seen || typeof seen.since !== "number" || seen.since > deskNow())
    keep({ since: deskNow(), opened: {} });
  return seen!;
}

function keep(next: Seen): void {
  seen = next;
  try {
    localStorage.setItem(KEY, JSON.stringify(next));
  } catch {
    // Where nothing can be stored it is known until the tab is closed.
  }
}

/** A lead was opened: it is no longer new here. */
export function markSeen(leadId: string): void {
  const { since, opened } = read();
  const newest = Object.entries({ ...opened, [leadId]: deskNow() }).slice(-MOST);
  keep({ since, opened: Object.fromEntries(newest) });
  for (const tell of listeners) tell();
}

/** Whether a lead has come, or inquired or written again, since this browser began to look, and was not opened since. */
export function useIsNew({ id, said, createdAt }: Pick<QueueRow, "id" | "said" | "createdAt">): boolean {
  const at = Date.parse(said?.at ?? createdAt);
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => {
      const { since, opened } = read();
      return at > Math.max(since, opened[id] ?? 0) && deskNow() - at < NEWS;
    },
    () => false,
  );
}
