/// <reference types="astro/client" />

declare namespace App {
  interface Locals {
    desk: import("../server/desk.ts").Desk;
    /** Who asks; null when nobody is signed in. Set before any endpoint is reached. */
    caller: import("./api/identify.ts").Caller | null;
    rehearsal: import("../server/rehearsal/rehearsal.ts").Rehearsal | null;
    /** Null in rehearsal. */
    ways: import("../server/channels/ways-out.ts").WaysOut | null;
    accounts: import("../server/access/accounts.ts").Accounts;
    ads: import("../server/ads/connector.ts").AdConnector;
    dialer: import("../server/calls/dialer.ts").Dialer;
    upkeep: import("../server/db/upkeep.ts").Upkeep;
    callLimits: import("../server/access/call-limits.ts").CallLimits;
    clockWatch: import("../server/watch/health.ts").ClockWatch;
    /** Who may show this page in a frame, as CSP names them; nobody when left out. */
    framedBy?: string;
    /** How much of the request's body has come, and whether that is more than may. */
    weighed: import("../server/http/body.ts").Weighed;
    /** Where the request comes from; a forwarded address only when a proxy that is named says so. */
    address: string;
    /** Throws away this rehearsal and begins another; null where data is kept. */
    beginAgain: ((beginning: import("../app/house.ts").Beginning) => Promise<void>) | null;
    /** The port mail is received on. */
    mailPort: number;
    /** Address this server listens at, for calling itself as the outside does. */
    origin: string;
    /** Address people reach this server at. */
    publicUrl: string;
  }
}
