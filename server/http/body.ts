import type { IncomingMessage } from "node:http";

const MEGABYTE = 1_048_576;
/** The most a request may weigh, in bytes. */
export const MOST_BODY = MEGABYTE;
/** What is uploaded by people who have signed in may weigh more: files to mail, and spreadsheets. */
export const MOST_FILE = 10 * MEGABYTE;
export const MOST_TABLE = 120 * MEGABYTE;
const UPLOADS: Readonly<Record<string, number>> = {
  "/api/v1/files": MOST_FILE,
  "/api/v1/imports/preview": MOST_TABLE,
};

/** How much of a request has come, and whether that is more than may. */
export interface Weighed {
  readonly most: number;
  over: boolean;
}

/** The most the body of a request to this address may weigh, in bytes. */
export function mostFor(url: string): number {
  return UPLOADS[url.split("?", 1)[0]!.replace(/\/$/, "")] ?? MOST_BODY;
}

/** Whether a request says itself that it weighs more than it may. */
export function saysTooMuch(request: IncomingMessage, most: number): boolean {
  return Number(request.headers["content-length"] ?? 0) > most;
}

/**
 * The body of a request as it comes, cut off where it weighs too much: then `weighed.over` is set and whoever reads it
 * gets an error. Nothing is gathered here.
 */
export async function* cutOff(request: IncomingMessage, weighed: Weighed): AsyncGenerator<Buffer> {
  let weight = 0;
  try {
    // Not ended when it is left: who is cut off while still sending would not read why.
    for await (const chunk of request.iterator({ destroyOnReturn: false })) {
      weight += (chunk as Buffer).length;
      if (weight > weighed.most) {
        weighed.over = true;
        throw new Error("The body weighs too much.");
      }
      yield chunk as Buffer;
    }
  } finally {
    // What still comes is let go by, unread.
    request.removeAllListeners("readable").resume();
  }
}

/** The whole body, or null when it weighs too much: the rest is let go by, unread. */
export function readBody(request: IncomingMessage, most = MOST_BODY): Promise<Buffer | null> {
  return new Promise((resolve, reject) => {
    const chunks: Buffer[] = [];
    let weight = 0;
    request.on("data", (chunk: Buffer) => {
      weight += chunk.length;
      if (weight > most) {
        request.removeAllListeners("data").resume();
        resolve(null);
      } else chunks.push(chunk);
    });
    request.on("end", () => resolve(chunks.length === 1 ? chunks[0]! : Buffer.concat(chunks)));
    request.on("error", reject);
  });
}
