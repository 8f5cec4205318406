import type { IncomingMessage } from "node:http";
import { isIPv6 } from "node:net";
import proxyaddr from "proxy-addr";

/** The address a request comes from. */
export type AddressOf = (request: IncomingMessage) => string;

/**
 * Reads where requests come from. An address that was forwarded counts only where a proxy that is named hands it over:
 * anybody can write the header. `proxies` are addresses, ranges (`10.0.0.0/8`) or `loopback`.
 * @throws with a sentence when one of them is none.
 */
export function addressReader(proxies: readonly string[]): AddressOf {
  let trusted: ReturnType<typeof proxyaddr.compile>;
  try {
    trusted = proxyaddr.compile([...proxies]);
  } catch {
    throw new Error(
      `KITEBELL_PROXIES must name addresses or ranges, as 127.0.0.1 or 10.0.0.0/8, not “${proxies.join(", ")}”.`,
    );
  }
  return (request) => {
    const address = request.socket.remoteAddress ? proxyaddr(request, trusted) : "";
    return address.replace(/^::ffff:(?=\d)/, "") || "unknown";
  };
}

/**
 * What is counted as one caller: an address, or the /64 of an IPv6 one, which a household or a machine has to itself
 * (RFC 6177: end sites get a /64 at least).
 */
export function networkOf(address: string): string {
  if (!isIPv6(address)) return address;
  const [head = "", tail] = address.split("%", 1)[0]!.split("::", 2);
  const groups = head ? head.split(":") : [];
  const after = tail ? tail.split(":") : [];
  const missing = tail === undefined ? 0 : Math.max(0, 8 - groups.length - after.length);
  const all = [...groups, ...Array<string>(missing).fill("0"), ...after];
  return `${all
    .slice(0, 4)
    .map((group) => Number.parseInt(group || "0", 16).toString(16))
    .join(":")}::/64`;
}
