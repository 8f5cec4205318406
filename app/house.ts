import { existsSync } from "node:fs";
import { rm } from "node:fs/promises";
import { join } from "node:path";
import type { Logger } from "pino";
import { starter } from "../core/policy/starter.ts";
import { makeHistory } from "../demo/history.ts";
import { tarnholt } from "../demo/tarnholt.ts";
import { LiveTraffic } from "../demo/traffic.ts";
import { Accounts } from "../server/access/accounts.ts";
import { CallLimits } from "../server/access/call-limits.ts";
import { AdConnector } from "../server/ads/connector.ts";
import { type Carrier, Dialer, httpCarrier } from "../server/calls/dialer.ts";
import { chatChannel, textChannel } from "../server/channels/gateway.ts";
import { smtpChannel } from "../server/channels/smtp.ts";
import { WaysOut } from "../server/channels/ways-out.ts";
import { type Clock, MovableClock, systemClock } from "../server/clock.ts";
import type { Config } from "../server/config.ts";
import { BACKUPS, DATABASE, FOLDER_FILES, type Folder } from "../server/db/folder.ts";
import { KEY_FILE, Sealer } from "../server/db/sealer.ts";
import { troubleOf } from "../server/db/sql.ts";
import { Upkeep } from "../server/db/upkeep.ts";
import { type Desk, type DeskConfig, openDesk } from "../server/desk.ts";
import { Door } from "../server/door.ts";
import { addressReader } from "../server/http/address.ts";
import type { Weighed } from "../server/http/body.ts";
import { startReceiver } from "../server/mail/receiver.ts";
import { Rehearsal } from "../server/rehearsal/rehearsal.ts";
import { startStandins } from "../server/rehearsal/standins.ts";
import { ClockWatch } from "../server/watch/health.ts";
import { Metrics } from "../server/watch/metrics.ts";

/** When an empty rehearsal begins: a Monday morning as the desk opens. */
const EMPTY_START = Date.parse("2026-03-02T15:00:00Z");

/** What a desk keeps in its data folder. */
const OWN_FILES = [
  DATABASE,
  `${DATABASE}-wal`,
  `${DATABASE}-shm`,
  "files",
  // Another desk's would be listed as this one's.
  BACKUPS,
  "outside.jsonl",
  "ad-platform.json",
  KEY_FILE,
  ...FOLDER_FILES,
];

/** What a desk begins with: the demo's morning with its history, or people, rules and sources alone. */
export type Beginning = "morning" | "empty";

/** A desk with everything that works around it, on one data folder. */
export interface House {
  readonly desk: Desk;
  /** Null at a real desk: its time is the clock's, and the world outside is the world. */
  readonly rehearsal: Rehearsal | null;
  /** Null in rehearsal, where stand-ins take everything. */
  readonly ways: WaysOut | null;
  readonly accounts: Accounts;
  readonly ads: AdConnector;
  readonly dialer: Dialer;
  readonly door: Door;
  readonly mailPort: number;
  readonly upkeep: Upkeep;
  readonly metrics: Metrics;
  readonly callLimits: CallLimits;
  readonly clockWatch: ClockWatch;
  close(): Promise<void>;
}

/** What the server knows of a request before a page does. */
interface RequestContext {
  readonly origin: string;
  readonly publicUrl: string;
  readonly weighed: Weighed;
  readonly address: string;
  readonly beginAgain: ((beginning: Beginning) => Promise<void>) | null;
}

/** What pages and endpoints are given with a request: the desk with what stands around it, and who asks from where. */
export const localsOf = (house: House, asked: RequestContext) => {
  const { desk, rehearsal, ways, accounts, ads, dialer, mailPort, upkeep, clockWatch, callLimits } = house;
  return { desk, rehearsal, ways, accounts, ads, dialer, mailPort, upkeep, clockWatch, callLimits, ...asked };
};

/** Where a house stands: its settings, the folder it has to itself, and its own address. */
export interface Ground {
  readonly config: Config;
  /** Null for one in memory. */
  readonly folder: Folder | null;
  /** Address this server answers at. */
  readonly origin: string;
  readonly log: Logger;
  /** The time of a real desk; the machine's own unless a test moves it. */
  readonly clock?: Clock;
}

/** Make what the data folder begins with, when it is new. Says on the console what was made. */
export async function begin(config: Config, beginning: Beginning): Promise<void> {
  if (beginning === "empty" || existsSync(join(config.data, DATABASE))) return;
  const begun = Date.now();
  const { inquiries, now } = await makeHistory(config.data);
  console.log(
    `Made ${inquiries} inquiries of demo history in ${((Date.now() - begun) / 1000).toFixed(1)} s; it is ${new Date(now).toISOString()}.`,
  );
}

/** Remove what a desk that is closed left in its data folder. */
export async function clear(data: string): Promise<void> {
  await Promise.all(OWN_FILES.map((name) => rm(join(data, name), { recursive: true, force: true })));
}

/** Open the desk of the data folder with its stand-ins, mail receiver and connectors, and let it keep time. */
export function openHouse(ground: Ground): Promise<House> {
  return ground.config.rehearsal ? openRehearsal(ground) : openReal(ground);
}

/** Open the desk; on a full disk with the room that was set aside for it. */
async function open(folder: Folder | null, config: DeskConfig): Promise<Desk> {
  try {
    return await openDesk(config);
  } catch (error) {
    if (!folder || !troubleOf(error) || !folder.release()) throw error;
    config.log.error({ err: error }, "the disk is full; the desk opens with the room that was set aside");
    return openDesk(config);
  }
}

/** A real desk: the machine's clock, and whatever ways out are set up. */
async function openReal(ground: Ground): Promise<House> {
  const { config, folder, origin, log, clock = systemClock } = ground;
  const { smtpUrl, textUrl, chatUrl } = config;
  const ways = new WaysOut({ email: smtpUrl, text: textUrl, chat: chatUrl });
  const desk = await open(folder, {
    data: config.data,
    backups: config.backups,
    clock,
    setup: starter(clock.now()),
    channels: ways.channels,
    url: config.url || origin,
    recordingsFrom: () => [...originsOf(ways.urlOf("text")), ...config.recordingsFrom],
    hooksInside: () => config.hooksInside,
    lostSince: lostSince(folder),
    log,
  });
  ways.use(desk.kept, new Sealer(folder ? config.data : null));
  const house = await furnish(ground, desk, {
    adsUrl: config.adsUrl,
    carrier: carrierBy(() => ways.urlOf("text")),
    clocks: () => [clock.now()],
  });
  return { ...house, rehearsal: null, ways };
}

const lostSince = (folder: Folder | null) => (folder?.lostSince ? Date.parse(folder.lostSince) : null);
const originsOf = (url: string | null) => (url ? [new URL(url).origin] : []);

/** Calls go where texts go, wherever that is just then. */
const carrierBy = (url: () => string | null): Carrier => {
  const now = () => {
    const there = url();
    if (!there)
      throw new Error("No carrier is set up: an administrator sets the line up under Set-up › Ways out.");
    return httpCarrier(there);
  };
  return {
    place: async (call) => now().place(call),
    hangUp: async (callId) => now().hangUp(callId),
  };
};

interface Furniture {
  readonly adsUrl: string | null;
  readonly carrier: Carrier;
  /** The times a delivery may be signed by. */
  readonly clocks: () => number[];
  /** Called when mail can come in and before time begins to count. */
  readonly ready?: (mailPort: number) => void;
}

/** What every desk has around it, started. */
async function furnish(
  { config, folder, origin }: Ground,
  desk: Desk,
  { adsUrl, carrier, clocks, ready }: Furniture,
): Promise<Omit<House, "rehearsal" | "ways">> {
  const mail = await startReceiver(desk, { port: config.mailPort, host: config.host });
  const ads = new AdConnector(desk, adsUrl, new Sealer(folder ? config.data : null));
  const accounts = await Accounts.open(desk, config.url || origin);
  const dialer = new Dialer(desk, carrier);
  const clockWatch = new ClockWatch();
  const metrics = new Metrics(desk, clockWatch);
  const upkeep = new Upkeep(desk, folder, clockWatch);
  ready?.(mail.port);
  desk.start({ outbox: !config.holdOutbox, index: !config.holdIndex });
  ads.start();
  upkeep.start();
  return {
    desk,
    ads,
    accounts,
    dialer,
    upkeep,
    metrics,
    callLimits: new CallLimits(config.callsPerMinute),
    clockWatch,
    door: new Door(desk, clocks, addressReader(config.proxies)),
    mailPort: mail.port,
    close: async () => {
      upkeep.stop();
      ads.stop();
      await mail.close();
      accounts.close();
      await desk.close();
    },
  };
}

async function openRehearsal(ground: Ground): Promise<House> {
  const { config, folder, origin, log } = ground;
  const clock = new MovableClock(EMPTY_START);
  const standins = await startStandins(clock, config.data);
  const desk = await open(folder, {
    data: config.data,
    backups: config.backups,
    clock,
    setup: tarnholt,
    channels: {
      email: config.smtpUrl ? smtpChannel(config.smtpUrl) : standins.channels.email,
      text: config.textUrl ? textChannel(config.textUrl) : standins.channels.text,
      chat: config.chatUrl ? chatChannel(config.chatUrl) : standins.channels.chat,
    },
    url: config.url || origin,
    recordingsFrom: () => [...originsOf(config.textUrl || standins.gatewayUrl), ...config.recordingsFrom],
    hooksInside: () => true,
    lostSince: lostSince(folder),
    log,
  });
  let rehearsal: Rehearsal | null = null;
  const house = await furnish(ground, desk, {
    adsUrl: config.adsUrl || standins.adsUrl,
    carrier: httpCarrier(config.textUrl || standins.gatewayUrl),
    // The world outside does not move with the desk's clock: a delivery may be signed by either.
    clocks: () => [clock.now(), Date.now()],
    ready: (mailPort) => {
      rehearsal = new Rehearsal(
        desk,
        clock,
        { standins, origin, mailPort },
        (world) => new LiveTraffic(desk, world, Date.now() % 1_000_000),
      );
      rehearsal.resume();
      rehearsal.connectForms();
      rehearsal.connectCarriers();
    },
  });
  return {
    ...house,
    rehearsal,
    ways: null,
    close: async () => {
      (rehearsal as Rehearsal | null)?.traffic?.stop();
      await house.close();
      await standins.close();
    },
  };
}
