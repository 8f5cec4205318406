import type { OutChannel } from "./channel.ts";

/** A way out that nobody has set up: what goes by it waits, with a reason that names the setting. */
export function unsetChannel(what: string, setting: string): OutChannel {
  const unset = `${what} is not set up: give ${setting} when starting Kite Bell.`;
  return { unset, deliver: () => Promise.reject(new Error(unset)), close: async () => {} };
}
