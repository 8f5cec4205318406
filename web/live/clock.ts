import { useSyncExternalStore } from "react";

/** The desk's clock in the browser: the server's time, carried on by the browser's. In rehearsal they differ by months. */
let ahead = 0;
let shown = Date.now();
const listeners = new Set<() => void>();

/** Epoch ms on the desk's clock. */
export const deskNow = () => Date.now() + ahead;

/** The server has told its time. Jitter below a second is not worth a jump. */
export function heardTime(now: number): void {
  const fresh = now - Date.now();
  if (Math.abs(fresh - ahead) < 900) return;
  ahead = fresh;
  tick();
}

function tick(): void {
  shown = deskNow();
  for (const listener of listeners) listener();
}

let running: ReturnType<typeof setInterval> | undefined;

function listen(listener: () => void): () => void {
  listeners.add(listener);
  running ??= setInterval(tick, 1000);
  return () => {
    listeners.delete(listener);
    if (listeners.size === 0) {
      clearInterval(running);
      running = undefined;
    }
  };
}

/** The desk's time, again every second. */
export function useNow(): number {
  return useSyncExternalStore(listen, () => shown);
}
