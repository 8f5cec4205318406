import type { OutChannel } from "./channel.ts";

const PATIENCE = 10_000;

async function post(url: string, key: string, body: object): Promise<void> {
  const response = await fetch(url, {
    method: "POST",
    headers: { "content-type": "application/json", "idempotency-key": key },
    body: JSON.stringify(body),
    signal: AbortSignal.timeout(PATIENCE),
  });
  if (!response.ok)
    throw new Error(`The gateway answered ${response.status}: ${(await response.text()).slice(0, 200)}`);
}

/** Text messages: `POST {url}/messages` with `{from, to, body}` and an `Idempotency-Key`; any 2xx is accepted. */
export function textChannel(url: string): OutChannel {
  return {
    deliver: ({ key, fromAddress, toAddress, body }) =>
      post(`${url}/messages`, key, { from: fromAddress, to: toAddress, body }),
    close: async () => {},
  };
}

/** Team chat: `POST {url}/posts` with `{to, text, url}` and an `Idempotency-Key`; `to` is `@person` or `#channel`. */
export function chatChannel(url: string): OutChannel {
  return {
    deliver: (parcel) =>
      post(`${url}/posts`, parcel.key, { to: parcel.toAddress, text: parcel.body, url: parcel.url }),
    close: async () => {},
  };
}
