import { appendFileSync, existsSync, readFileSync } from "node:fs";

/** A message as the outside world received it. */
export interface Received {
  readonly id: string;
  readonly at: number;
  readonly channel: "text" | "email" | "chat" | "call" | "hook";
  readonly to: string;
  readonly from: string;
  readonly subject?: string;
  readonly body: string;
  readonly url?: string;
  /** A mail's HTML twin. */
  readonly html?: string;
  /** The calendar file a mail carries. */
  readonly calendar?: string;
  readonly files?: readonly { readonly name: string; readonly size: number }[];
  readonly headers?: Readonly<Record<string, string>>;
}

/** Everything phones, mailboxes and chats have received. The same key is received once, as real gateways do. */
export class Outside {
  readonly #all: Received[] = [];
  readonly #keys = new Set<string>();
  readonly #now: () => number;
  readonly #file: string | null;
  /** How often a key came again: each is a delivery repeated after a crash. */
  repeats = 0;
  /** Told of each message with the key it came under, once it is received. */
  received: (message: Received, key: string) => void = () => {};
  /** Parts of the world that do not answer at present. */
  readonly down = new Set<string>();

  /** `file` keeps what was received over restarts, a line of JSON each. */
  constructor(now: () => number, file: string | null = null) {
    this.#now = now;
    this.#file = file;
    if (file && existsSync(file)) {
      for (const line of readFileSync(file, "utf8").split("\n").filter(Boolean)) {
        const { key, ...message } = JSON.parse(line) as Received & { key: string };
        this.#keys.add(key);
        this.#all.push(message);
      }
    }
  }

  now(): number {
    return this.#now();
  }

  /** Keep a message; one whose key is known already is dropped. */
  receive(key: string, message: Omit<Received, "id" | "at">): Received | null {
    if (this.#keys.has(key)) {
      this.repeats++;
      return null;
    }
    this.#keys.add(key);
    const received = { id: `out_${this.#all.length + 1}`, at: this.#now(), ...message };
    this.#all.push(received);
    if (this.#file) appendFileSync(this.#file, `${JSON.stringify({ key, ...received })}\n`);
    this.received(received, key);
    return received;
  }

  /** What was received, oldest first, by channel and from a time on. */
  list({ channel, since = 0 }: { channel?: string; since?: number } = {}): Received[] {
    return this.#all.filter((m) => (!channel || m.channel === channel) && m.at >= since);
  }
}
