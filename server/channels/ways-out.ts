import { MESSAGE_WAYS, type MessageWay } from "../../core/vocabulary.ts";
import type { KeptValues } from "../db/kept.ts";
import type { Sealer } from "../db/sealer.ts";
import type { OutChannel } from "./channel.ts";
import { chatChannel, textChannel } from "./gateway.ts";
import { type MailServer, mailServerOf } from "./mail-server.ts";
import { smtpChannel } from "./smtp.ts";

/** What each way is called, and the setting that goes before what was entered here. */
const WAYS: Readonly<
  Record<MessageWay, { readonly name: string; readonly setting: string; make(url: string): OutChannel }>
> = {
  email: { name: "Mail", setting: "KITEBELL_SMTP_URL", make: smtpChannel },
  text: { name: "The line for texts", setting: "KITEBELL_TEXT_URL", make: textChannel },
  chat: { name: "Team chat", setting: "KITEBELL_CHAT_URL", make: chatChannel },
};

/** Where a way out leads, without what nobody is shown. */
export interface WayState {
  readonly way: MessageWay;
  /** Who said where it leads: whoever started the desk, or an administrator in Set-up. Null when nobody has. */
  readonly from: "environment" | "set-up" | null;
  /** The address without its password; null when there is none. */
  readonly shown: string | null;
  /** The mail server; null for other ways, and when there is none. */
  readonly server: Omit<MailServer, "password"> | null;
  readonly setting: string;
}

type Urls = Readonly<Record<MessageWay, string | null>>;
const secretName = (way: MessageWay) => `way-out:${way}`;

/**
 * The ways out of a real desk. Where each leads is said when the desk is started, which counts before all else, or in
 * Set-up, and kept sealed. A change holds from the next message on.
 */
export class WaysOut {
  readonly #environment: Urls;
  readonly #open = new Map<MessageWay, OutChannel>();
  /** What was entered, once it was read: every decision asks whether a way is there. */
  readonly #entered = new Map<MessageWay, string | null>();
  #kept: { readonly values: KeptValues; readonly sealer: Sealer } | null = null;
  /** For the desk: each goes wherever its way leads just then. */
  readonly channels: Readonly<Record<MessageWay, OutChannel>>;

  constructor(environment: Urls) {
    this.#environment = environment;
    const channel = (way: MessageWay): OutChannel => {
      const whyNot = () => this.#whyNot(way);
      return {
        get unset() {
          return whyNot();
        },
        deliver: (parcel) => {
          const out = this.#of(way);
          return out ? out.deliver(parcel) : Promise.reject(new Error(whyNot()));
        },
        close: async () => this.#open.get(way)?.close(),
      };
    };
    this.channels = { email: channel("email"), text: channel("text"), chat: channel("chat") };
  }

  /** From now on what was entered in Set-up counts as well. */
  use(values: KeptValues, sealer: Sealer): void {
    this.#kept = { values, sealer };
  }

  /** Where a way leads; null when nobody has said. */
  urlOf(way: MessageWay): string | null {
    const given = this.#environment[way];
    if (given || !this.#kept) return given;
    const known = this.#entered.get(way);
    if (known !== undefined) return known;
    const sealed = this.#kept.values.secret(secretName(way));
    const url = sealed === null ? null : this.#kept.sealer.open(sealed);
    this.#entered.set(way, url);
    return url;
  }

  #whyNot(way: MessageWay): string | undefined {
    if (this.urlOf(way)) return undefined;
    const { name, setting } = WAYS[way];
    return `${name} is not set up: an administrator does that under Set-up › Ways out, or with ${setting} when starting Kite Bell.`;
  }

  #of(way: MessageWay): OutChannel | null {
    const known = this.#open.get(way);
    if (known) return known;
    const url = this.urlOf(way);
    if (!url) return null;
    const made = WAYS[way].make(url);
    this.#open.set(way, made);
    return made;
  }

  /** Say where a way leads; null for nowhere any more. What is under way by the old one is let go on. */
  async put(way: MessageWay, url: string | null): Promise<void> {
    if (!this.#kept) return;
    const { values, sealer } = this.#kept;
    if (url === null) values.dropSecret(secretName(way));
    else values.keepSecret(secretName(way), sealer.seal(url));
    this.#entered.delete(way);
    const before = this.#open.get(way);
    this.#open.delete(way);
    await before?.close();
  }

  states(): readonly WayState[] {
    return MESSAGE_WAYS.map((way) => {
      const url = this.urlOf(way);
      const from = !url ? null : this.#environment[way] ? "environment" : "set-up";
      const server = way === "email" ? mailServerOf(url) : null;
      return { way, from, shown: shownOf(url), server, setting: WAYS[way].setting };
    });
  }
}

/** An address as it may be shown: never with its password. */
function shownOf(url: string | null): string | null {
  if (!url || !URL.canParse(url)) return null;
  const { protocol, host, pathname } = new URL(url);
  return `${protocol}//${host}${pathname === "/" ? "" : pathname}`;
}
