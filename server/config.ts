import { join, resolve } from "node:path";
import { parseArgs } from "node:util";
import { BACKUPS } from "./db/folder.ts";

export interface Config {
  readonly port: number;
  readonly host: string;
  readonly data: string;
  /** Where backups are put. */
  readonly backups: string;
  readonly rehearsal: boolean;
  /** Make the demo's history before starting, when the data folder is new. */
  readonly demo: boolean;
  /** With `demo`: policies, people and sources, but no leads. */
  readonly empty: boolean;
  readonly url: string;
  /** Addresses of proxies that are believed when they say whom they forward. */
  readonly proxies: readonly string[];
  readonly smtpUrl: string | null;
  readonly textUrl: string | null;
  readonly chatUrl: string | null;
  /** Origins recordings are fetched from, beside the carrier's own. */
  readonly recordingsFrom: readonly string[];
  /** The ad platform's address; the stand-in's when null. */
  readonly adsUrl: string | null;
  /** Where mail for the desk is received over SMTP; 0 takes any free port. */
  readonly mailPort: number;
  readonly logLevel: string;
  /** Keep messages queued instead of delivering them: for measuring intake alone. */
  readonly holdOutbox: boolean;
  /** For measuring alone: what is found and listed by is not kept up beside the desk. */
  readonly holdIndex: boolean;
  /** How many calls an API key may make in a minute. */
  readonly callsPerMinute: number;
  /** What `/metrics` is read with; without one only this machine itself may read it. */
  readonly metricsToken: string | null;
  /** Whether webhooks may go to addresses of this house's own network. */
  readonly hooksInside: boolean;
}

/**
 * The configuration from the environment and the command line, which wins.
 * @throws with a sentence naming the setting and the remedy when one cannot be used.
 */
export function readConfig(env: NodeJS.ProcessEnv, argv: readonly string[]): Config {
  const { values } = parseArgs({
    args: [...argv],
    options: {
      port: { type: "string" },
      host: { type: "string" },
      data: { type: "string" },
      demo: { type: "boolean" },
      empty: { type: "boolean" },
    },
  });
  const port = portOf("PORT", values.port ?? env.PORT ?? "4321");
  const host = values.host ?? env.HOST ?? "127.0.0.1";
  const demo = values.demo ?? false;
  const data = resolve(values.data ?? env.KITEBELL_DATA ?? "./data");
  return {
    port,
    host,
    data,
    backups: resolve(env.KITEBELL_BACKUPS ?? join(data, BACKUPS)),
    rehearsal: demo || env.KITEBELL_REHEARSAL === "1",
    demo,
    empty: values.empty ?? false,
    url: urlOf("KITEBELL_URL", env.KITEBELL_URL),
    proxies: listOf(env.KITEBELL_PROXIES),
    smtpUrl: env.KITEBELL_SMTP_URL ?? null,
    textUrl: urlOf("KITEBELL_TEXT_URL", env.KITEBELL_TEXT_URL) || null,
    chatUrl: urlOf("KITEBELL_CHAT_URL", env.KITEBELL_CHAT_URL) || null,
    recordingsFrom: listOf(env.KITEBELL_RECORDINGS).map(
      (url) => new URL(urlOf("KITEBELL_RECORDINGS", url)).origin,
    ),
    adsUrl: urlOf("KITEBELL_ADS_URL", env.KITEBELL_ADS_URL) || null,
    mailPort: portOf("KITEBELL_MAIL_PORT", env.KITEBELL_MAIL_PORT ?? "0"),
    logLevel: env.KITEBELL_LOG ?? "warn",
    holdOutbox: env.KITEBELL_OUTBOX === "hold",
    holdIndex: env.KITEBELL_INDEX === "hold",
    callsPerMinute: countOf("KITEBELL_CALLS_PER_MINUTE", env.KITEBELL_CALLS_PER_MINUTE ?? "1200"),
    metricsToken: env.KITEBELL_METRICS_TOKEN || null,
    hooksInside: env.KITEBELL_HOOKS_INSIDE === "1",
  };
}

function listOf(written: string | undefined): string[] {
  return (written ?? "")
    .split(",")
    .map((part) => part.trim())
    .filter(Boolean);
}

/** An address of a server as people reach it, without a trailing slash; empty when none is given. */
function urlOf(name: string, written: string | undefined): string {
  if (!written) return "";
  if (!URL.canParse(written) || !/^https?:$/.test(new URL(written).protocol))
    throw new Error(`${name} must be an address such as https://desk.example.com, not “${written}”.`);
  return written.replace(/\/$/, "");
}

function countOf(name: string, written: string): number {
  const count = Number(written);
  if (!Number.isInteger(count) || count < 1)
    throw new Error(`${name} must be a whole number of one or more, not “${written}”.`);
  return count;
}

function portOf(name: string, written: string): number {
  const port = Number(written);
  if (!Number.isInteger(port) || port < 0 || port > 65_535)
    throw new Error(`${name} must be a number from 0 to 65535, not “${written}”.`);
  return port;
}
