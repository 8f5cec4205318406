import { lookup as resolve } from "node:dns";
import { Agent, request as httpRequest } from "node:http";
import { request as httpsRequest, Agent as SecureAgent } from "node:https";
import { BlockList, isIP, type LookupFunction } from "node:net";

/** How long another system may take to answer (ms), and how much of what it says is read (bytes). */
const PATIENCE = 10_000;
const MOST_SAID = 64_000;

/**
 * Addresses nothing outside has: loopback, private, link-local, shared, documentation, multicast. What an administrator
 * enters, or a name that resolves to one, must not reach what stands beside this server. Source: RFC 6890 and OWASP's
 * cheat sheet on server-side request forgery.
 */
const INSIDE = new BlockList();
for (const [net, bits] of [
  ["0.0.0.0", 8],
  ["10.0.0.0", 8],
  ["100.64.0.0", 10],
  ["127.0.0.0", 8],
  ["169.254.0.0", 16],
  ["172.16.0.0", 12],
  ["192.0.0.0", 24],
  ["192.0.2.0", 24],
  ["192.168.0.0", 16],
  ["198.18.0.0", 15],
  ["198.51.100.0", 24],
  ["203.0.113.0", 24],
  ["224.0.0.0", 3],
] as const)
  INSIDE.addSubnet(net, bits, "ipv4");
for (const [net, bits] of [
  ["::", 128],
  ["::1", 128],
  ["64:ff9b::", 96],
  ["100::", 64],
  ["2001:db8::", 32],
  ["fc00::", 7],
  ["fe80::", 10],
  ["ff00::", 8],
] as const)
  INSIDE.addSubnet(net, bits, "ipv6");

/** Whether an address is one that nothing outside this house has. */
export function isInside(address: string): boolean {
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1];
  if (mapped) return INSIDE.check(mapped, "ipv4");
  return INSIDE.check(address, isIP(address) === 6 ? "ipv6" : "ipv4");
}

class Inside extends Error {}
const inside = (host: string) =>
  new Inside(`${host} is an address of this house or its network. Other systems stand outside.`);

/** Resolves names, and refuses one that leads inside: asked as the connection is made, so nothing changes in between. */
const outsideOnly: LookupFunction = (hostname, options, done) => {
  resolve(hostname, { ...options, all: true }, (error, found) => {
    if (error) return done(error, "", 0);
    const bad = found.find(({ address }) => isInside(address));
    if (bad || found.length === 0) return done(inside(hostname), "", 0);
    if (options.all) return (done as unknown as (e: null, all: typeof found) => void)(null, found);
    return done(null, found[0]!.address, found[0]!.family);
  });
};

/** Connections are kept for the next delivery: a new one each time costs more than the delivery. */
const KEPT = { keepAlive: true, maxSockets: 64, timeout: PATIENCE };
const agents = {
  outside: {
    "http:": new Agent({ ...KEPT, lookup: outsideOnly }),
    "https:": new SecureAgent({ ...KEPT, lookup: outsideOnly }),
  },
  anywhere: { "http:": new Agent(KEPT), "https:": new SecureAgent(KEPT) },
} as const;

export interface Answered {
  readonly status: number;
  readonly said: string;
}

/** Post a body to another system and read what it says. Redirects are not followed. @throws with a sentence when nothing comes back. */
export function post(
  url: string,
  headers: Readonly<Record<string, string>>,
  body: string,
  { mayBeInside }: { readonly mayBeInside: boolean },
): Promise<Answered> {
  const to = new URL(url);
  const host = to.hostname.replace(/^\[|\]$/g, "");
  if (!mayBeInside && isIP(host) && isInside(host)) return Promise.reject(inside(host));
  const protocol = to.protocol === "https:" ? "https:" : "http:";
  const request = protocol === "https:" ? httpsRequest : httpRequest;
  return new Promise((done, fail) => {
    const asked = request(
      to,
      {
        method: "POST",
        headers: {
          ...headers,
          "content-type": "application/json",
          "content-length": Buffer.byteLength(body),
        },
        signal: AbortSignal.timeout(PATIENCE),
        agent: agents[mayBeInside ? "anywhere" : "outside"][protocol],
      },
      (response) => {
        const parts: Buffer[] = [];
        let read = 0;
        response.on("data", (part: Buffer) => {
          read += part.length;
          if (read <= MOST_SAID) parts.push(part);
          else response.destroy();
        });
        response.on("close", () =>
          done({ status: response.statusCode ?? 0, said: Buffer.concat(parts).toString("utf8") }),
        );
        response.on("error", () => undefined);
      },
    );
    asked.on("error", (error) =>
      fail(
        error.name === "AbortError" || error.name === "TimeoutError"
          ? new Error(`It gave no answer for ${PATIENCE / 1000} seconds.`)
          : error,
      ),
    );
    asked.end(body);
  });
}
