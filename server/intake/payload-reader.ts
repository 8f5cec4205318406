import type { Worker } from "node:worker_threads";
import { mailHead } from "../mail/read-mail.ts";
import { hasThread, startThread } from "../threads.ts";
import { type Delivery, fromMail, type Parsed, parsePayload } from "./payload.ts";
import type { PayloadTask } from "./payload-worker.ts";

/** What weighs no more (bytes) is read at once: it takes less than handing it over. */
const SMALL = 16_384;
/** How long one delivery may take in the thread (ms), and how much memory: it catches what hangs, not what is slow. */
const PATIENCE = 10_000;
const LIMITS = { maxOldGenerationSizeMb: 320, maxYoungGenerationSizeMb: 32 };

const isMail = ({ contentType }: Delivery) => /^\s*message\/rfc822/i.test(contentType);

/**
 * Reads payloads, the large ones and mails in a thread of their own: whatever a stranger sends, the desk goes on. What
 * takes too long or too much there is given up: a mail is read without its HTML, and by its first lines if that is too
 * much as well; anything else waits in quarantine.
 */
export class PayloadReader {
  #worker: Worker | null = null;
  /** Told what the thread makes of what it was asked last; null while it was asked nothing. */
  #answer: ((parsed: Parsed | null) => void) | null = null;
  #turn: Promise<unknown> = Promise.resolve();

  /** Bring a payload to named answers. Never rejects. */
  read(delivery: Delivery): Promise<Parsed> {
    const mail = isMail(delivery);
    if ((delivery.raw.length <= SMALL && !mail) || !hasThread("payload")) return parsePayload(delivery);
    // One after the other, so that each has the thread and its time for itself.
    const read = this.#turn.then(() => (mail ? this.#readMail(delivery) : this.#readOther(delivery)));
    this.#turn = read;
    return read;
  }

  async #readOther(delivery: Delivery): Promise<Parsed> {
    return (
      (await this.#ask({ delivery, plain: false })) ?? {
        ok: false,
        reason: "It took too long to read. The original is kept: look at it before you try it again.",
      }
    );
  }

  async #readMail(delivery: Delivery): Promise<Parsed> {
    return (
      (await this.#ask({ delivery, plain: false })) ??
      (await this.#ask({ delivery, plain: true })) ??
      fromMail(mailHead(delivery.raw, delivery.headers["return-path"] ?? null))
    );
  }

  /** What the thread made of it; null when it took too long, too much memory, or broke. */
  #ask(asked: PayloadTask): Promise<Parsed | null> {
    return new Promise((resolve) => {
      const timer = setTimeout(() => this.#giveUp(), PATIENCE);
      this.#answer = (parsed) => {
        clearTimeout(timer);
        this.#answer = null;
        resolve(parsed && whole(parsed));
      };
      this.#worker ??= this.#start();
      this.#worker.postMessage(asked);
    });
  }

  #start(): Worker {
    const worker = startThread("payload", { resourceLimits: LIMITS });
    const broken = () => {
      if (this.#worker === worker) this.#giveUp();
    };
    worker.on("message", (parsed: Parsed) => this.#answer?.(parsed));
    worker.on("error", broken);
    worker.on("exit", broken);
    // Nobody waits for an idle thread to end the process.
    worker.unref();
    return worker;
  }

  /** Give the thread up; the next delivery gets a fresh one. */
  #giveUp(): void {
    const worker = this.#worker;
    this.#worker = null;
    void worker?.terminate();
    this.#answer?.(null);
  }

  /** Ends the thread. What is asked afterwards starts another. */
  close(): void {
    this.#giveUp();
  }
}

/** What came over from a thread, its files as buffers again. */
function whole(parsed: Parsed): Parsed {
  if (!parsed.mail) return parsed;
  const files = parsed.mail.files.map((f) => ({ ...f, bytes: Buffer.from(f.bytes) }));
  return { ...parsed, mail: { ...parsed.mail, files } };
}
