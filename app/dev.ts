import type { IncomingMessage, ServerResponse } from "node:http";
import pino from "pino";
import { readConfig } from "../server/config.ts";
import { Folder } from "../server/db/folder.ts";
import { addressReader } from "../server/http/address.ts";
import { mostFor, type Weighed } from "../server/http/body.ts";
import { begin, localsOf, openHouse } from "./house.ts";

/** A desk for whoever works on Kite Bell: pages come from elsewhere, and it is opened again with each change. */
export interface DevHouse {
  /** Whether the request was for the door, and has been seen to. */
  serve(request: IncomingMessage, response: ServerResponse): boolean;
  /** What pages are given with a request. */
  locals(request: IncomingMessage): object;
  close(): Promise<void>;
}

/** Open the demo's desk in `data`, making it when there is none. Pages are served at `origin`. */
export async function open(data: string, origin: string): Promise<DevHouse> {
  const config = readConfig(process.env, ["--demo", "--data", data]);
  const folder = Folder.take(config.data);
  try {
    await begin(config, "morning");
    const log = pino({ level: config.logLevel }, pino.destination(2));
    const house = await openHouse({ config, folder, origin, log });
    const addressOf = addressReader(config.proxies);
    return {
      serve: (request, response) => house.door.serve(request, response),
      locals: (request) => {
        const weighed: Weighed = { most: mostFor(request.url ?? ""), over: false };
        return localsOf(house, {
          origin,
          publicUrl: config.url || origin,
          weighed,
          address: addressOf(request),
          beginAgain: null,
        });
      },
      close: async () => {
        await house.close();
        folder.close();
      },
    };
  } catch (error) {
    folder.close();
    throw error;
  }
}
