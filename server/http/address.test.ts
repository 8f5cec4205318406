import type { IncomingMessage } from "node:http";
import { describe, expect, it } from "vitest";
import { addressReader, networkOf } from "./address.ts";

const asked = (from: string, forwarded?: string) =>
  ({
    socket: { remoteAddress: from },
    headers: forwarded ? { "x-forwarded-for": forwarded } : {},
  }) as unknown as IncomingMessage;

describe("where a request comes from", () => {
  it.each([
    ["nobody named: what is forwarded counts for nothing", [], "203.0.113.9", "198.51.100.1", "203.0.113.9"],
    ["a named proxy is believed", ["127.0.0.1"], "127.0.0.1", "198.51.100.1", "198.51.100.1"],
    ["but not what stands further left", ["127.0.0.1"], "127.0.0.1", "1.1.1.1, 198.51.100.1", "198.51.100.1"],
    [
      "two proxies in a row",
      ["127.0.0.1", "10.0.0.0/8"],
      "127.0.0.1",
      "198.51.100.1, 10.2.3.4",
      "198.51.100.1",
    ],
    ["IPv4 in IPv6 is IPv4", [], "::ffff:203.0.113.9", undefined, "203.0.113.9"],
    ["a proxy that says nothing", ["loopback"], "127.0.0.1", undefined, "127.0.0.1"],
  ])("%s", (_what, proxies, from, forwarded, address) => {
    expect(addressReader(proxies)(asked(from, forwarded))).toBe(address);
  });
  it("a proxy that is no address is told of when starting", () => {
    expect(() => addressReader(["our proxy"])).toThrow("KITEBELL_PROXIES must name addresses or ranges");
  });
});

describe("what counts as one caller", () => {
  it.each([
    ["203.0.113.9", "203.0.113.9"],
    ["2001:db8:1:2:3:4:5:6", "2001:db8:1:2::/64"],
    ["2001:db8::1", "2001:db8:0:0::/64"],
    ["2001:db8:0001:0002::9", "2001:db8:1:2::/64"],
    ["fe80::1%eth0", "fe80:0:0:0::/64"],
    ["unknown", "unknown"],
  ])("%s is %s", (address, network) => {
    expect(networkOf(address)).toBe(network);
  });
});
