import { parentPort } from "node:worker_threads";
import { readMail } from "../mail/read-mail.ts";
import { type Delivery, fromMail, parsePayload } from "./payload.ts";

/** What the thread is asked to read; `plain` leaves a mail's HTML alone. */
export interface PayloadTask {
  readonly delivery: Delivery;
  readonly plain: boolean;
}

const port = parentPort!;
port.on("message", ({ delivery: sent, plain }: PayloadTask) => {
  // Bytes come over as plain ones.
  const delivery = { ...sent, raw: Buffer.from(sent.raw) };
  const reading = plain
    ? readMail(delivery.raw, delivery.headers["return-path"] ?? null, true).then(fromMail)
    : parsePayload(delivery);
  reading.then(
    (parsed) => port.postMessage(parsed),
    (error: unknown) => {
      throw error;
    },
  );
});
