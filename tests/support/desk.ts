import pino from "pino";
import { tarnholt } from "../../demo/tarnholt.ts";
import type { OutChannel } from "../../server/channels/channel.ts";
import { MovableClock } from "../../server/clock.ts";
import { type Desk, type DeskConfig, openDesk } from "../../server/desk.ts";

/** A Wednesday morning at the demo company's desk. */
export const NINE = Date.parse("2026-03-04T16:00:00Z");

/** Takes every message and delivers none. */
export const idle: OutChannel = { deliver: async () => {}, close: async () => {} };

/** The demo company's desk in this process: without leads, silent, its clock standing still at nine. */
export function testDesk(how: Partial<DeskConfig> = {}): Promise<Desk> {
  return openDesk({
    data: ":memory:",
    clock: new MovableClock(NINE, { frozen: true }),
    setup: tarnholt,
    channels: { email: idle, text: idle, chat: idle },
    url: "",
    log: pino({ level: "silent" }),
    ...how,
  });
}
