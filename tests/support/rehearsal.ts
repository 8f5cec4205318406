import { afterAll, beforeAll, beforeEach, expect } from "vitest";
import { client, dataFolder, type Running, startServer } from "./server.ts";

/** Wednesday, nine in the morning at the desk. */
export const WEDNESDAY_NINE = "2026-03-04T16:00:00Z";

interface Rehearsing {
  /** The server under test, once it runs. */
  readonly server: () => Running;
  readonly api: ReturnType<typeof client>;
}

/**
 * A rehearsal without leads for the tests of one file, on a Wednesday at nine. With `fresh` each test begins it again.
 */
export function rehearsal({ fresh = false } = {}): Rehearsing {
  let running: Running | null = null;
  let folder: Awaited<ReturnType<typeof dataFolder>>;
  let inner: ReturnType<typeof client>;
  const api: Rehearsing["api"] = {
    get: (...asked) => inner.get(...asked),
    post: (...asked) => inner.post(...asked),
  };
  beforeAll(async () => {
    folder = await dataFolder();
    running = await startServer(folder.path);
    inner = client(running.origin);
    if (!fresh) await api.post("/rehearsal/clock", { to: WEDNESDAY_NINE });
  });
  if (fresh)
    beforeEach(async () => {
      expect((await api.post("/rehearsal/begin", { with: "empty" })).status).toBe(200);
      await api.post("/rehearsal/clock", { to: WEDNESDAY_NINE });
    });
  afterAll(async () => {
    await running?.stop();
    await folder.remove();
  });
  return { server: () => running!, api };
}
