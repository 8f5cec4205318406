import { type OutChannel, Refused } from "./channel.ts";

const PATIENCE = 10_000;
/** So much of what a gateway says is told (characters). */
const TOLD = 200;

/** Somewhere to post to: the address without its key, and the headers that carry the key. */
function doorOf(
  base: string,
  path: string,
): { readonly url: string; readonly headers: Record<string, string> } {
  const url = new URL(base.endsWith("/") ? base.slice(0, -1) + path : base + path);
  const [user, password] = [url.username, url.password].map(decodeURIComponent);
  url.username = "";
  url.password = "";
  if (!user) return { url: url.href, headers: {} };
  const basic = Buffer.from(`${user}:${password}`).toString("base64");
  return { url: url.href, headers: { authorization: password ? `Basic ${basic}` : `Bearer ${user}` } };
}

/**
 * Post JSON to a gateway: `https://key@gateway.example` sends the key as a bearer token, `user:password@` as basic.
 * @throws Refused when it answers 422: it knows that this will never go. Any other failure may pass.
 */
export async function postTo(base: string, path: string, body: object, key?: string): Promise<void> {
  const { url, headers } = doorOf(base, path);
  const response = await fetch(url, {
    method: "POST",
    headers: { "content-type": "application/json", ...(key && { "idempotency-key": key }), ...headers },
    body: JSON.stringify(body),
    signal: AbortSignal.timeout(PATIENCE),
  });
  if (response.ok) return;
  const said = (await response.text()).slice(0, TOLD).trim();
  if (response.status === 422) throw new Refused(said || "the gateway gave no reason");
  throw new Error(`The gateway answered ${response.status}${said ? `: ${said}` : "."}`);
}

/** Text messages: `POST {url}/messages` with `{from, to, body}` and an `Idempotency-Key`; any 2xx is accepted, 422 is for good. */
export function textChannel(url: string): OutChannel {
  return {
    deliver: ({ key, fromAddress, toAddress, body }) =>
      postTo(url, "/messages", { from: fromAddress, to: toAddress, body }, key),
    close: async () => {},
  };
}

/** Team chat: `POST {url}/posts` with `{to, text, url}` and an `Idempotency-Key`; `to` is `@person` or `#channel`. */
export function chatChannel(url: string): OutChannel {
  return {
    deliver: (parcel) =>
      postTo(url, "/posts", { to: parcel.toAddress, text: parcel.body, url: parcel.url }, parcel.key),
    close: async () => {},
  };
}
