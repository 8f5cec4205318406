import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { describe, expect, it } from "vitest";
import { isInside, post } from "./post.ts";

describe("addresses of this house", () => {
  // RFC 6890, and the forms OWASP's cheat sheet on server-side request forgery names.
  it.each([
    "127.0.0.1",
    "127.9.9.9",
    "10.0.0.1",
    "172.16.0.1",
    "172.31.255.255",
    "192.168.1.1",
    "169.254.169.254",
    "100.64.0.1",
    "0.0.0.0",
    "224.0.0.1",
    "::1",
    "::",
    "fe80::1",
    "fd00::1",
    "::ffff:127.0.0.1",
    "::ffff:10.0.0.1",
  ])("%s is inside", (address) => expect(isInside(address)).toBe(true));
  it.each(["8.8.8.8", "172.32.0.1", "192.169.0.1", "100.128.0.1", "2606:4700::1111"])(
    "%s is outside",
    (address) => expect(isInside(address)).toBe(false),
  );

  it.each([
    "http://127.0.0.1:9/x",
    "http://[::1]:9/x",
    "http://localhost:9/x",
    "http://2130706433/x",
    "http://0x7f.1/x",
  ])("%s is not told", (url) =>
    expect(post(url, {}, "{}", { mayBeInside: false })).rejects.toThrow("is an address of this house"),
  );
});

describe("what another system answers", () => {
  it("is read up to a bound, and a redirect is not followed", async () => {
    const seen: string[] = [];
    const server = createServer((request, response) => {
      seen.push(request.url ?? "");
      if (request.url === "/on") response.writeHead(302, { location: "/elsewhere" }).end();
      else response.end("x".repeat(500_000));
    });
    await new Promise<void>((ready) => server.listen(0, "127.0.0.1", ready));
    const at = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    const long = await post(`${at}/long`, {}, "{}", { mayBeInside: true });
    expect(long.said.length).toBeLessThanOrEqual(64_000);
    expect((await post(`${at}/on`, {}, "{}", { mayBeInside: true })).status).toBe(302);
    expect(seen).toEqual(["/long", "/on"]);
    server.close();
  });
});
