import { type ChildProcess, spawn } from "node:child_process";
import { readFile, writeFile } from "node:fs/promises";
import type { IncomingHttpHeaders } from "node:http";
import { request } from "node:https";
import { join } from "node:path";
import { generate } from "selfsigned";
import { afterEach, expect, it, vi } from "vitest";
import { ADA } from "../support/real.ts";
import { client, dataFolder, freePort, startServer } from "../support/server.ts";

/** A desk behind nginx, over TLS, as the README sets it up; and a hundred visitors from a hundred addresses. */

const HOST = "desk.example.com";
const cleanUp: (() => unknown)[] = [];
afterEach(async () => {
  for (const done of cleanUp.splice(0).reverse()) await done();
});

/** Start nginx before a desk, with the block that stands in the README and a certificate made for it. */
async function startProxy(folder: string, deskPort: string): Promise<{ port: number; ca: string }> {
  const readme = await readFile(join(import.meta.dirname, "../../README.md"), "utf8");
  const port = await freePort();
  const block = /```nginx\n([\s\S]*?)```/
    .exec(readme)![1]!
    .replace(
      "listen 443 ssl;",
      `listen 127.0.0.1:${port} ssl; ssl_certificate ${folder}/cert.pem; ssl_certificate_key ${folder}/key.pem;`,
    )
    .replace("127.0.0.1:4321", `127.0.0.1:${deskPort}`);
  const made = await generate([{ name: "commonName", value: HOST }], {
    keyType: "ec",
    extensions: [{ name: "subjectAltName", altNames: [{ type: 2, value: HOST }] }],
  });
  await writeFile(join(folder, "cert.pem"), made.cert);
  await writeFile(join(folder, "key.pem"), made.private);
  const paths = ["client_body", "proxy", "fastcgi", "uwsgi", "scgi"].map(
    (name) => `${name}_temp_path ${folder}/${name};`,
  );
  const config = `daemon off; pid ${folder}/pid; error_log stderr; events {} http { access_log off; ${paths.join(" ")} ${block} }`;
  await writeFile(join(folder, "nginx.conf"), config);
  const nginx: ChildProcess = spawn("/usr/sbin/nginx", ["-c", join(folder, "nginx.conf"), "-p", folder]);
  const gone = new Promise((resolve) => nginx.once("exit", resolve));
  cleanUp.push(() => {
    nginx.kill();
    return gone;
  });
  const proxy = { port, ca: made.cert };
  await vi.waitFor(() => ask(proxy, "GET", "/api/v1/health"), { timeout: 120_000, interval: 50 });
  return proxy;
}

interface Answer {
  readonly status: number;
  readonly headers: IncomingHttpHeaders;
  readonly text: string;
}

/** Ask over TLS, trusting that one certificate alone. */
function ask(
  { port, ca }: { port: number; ca: string },
  method: string,
  path: string,
  {
    from = "127.0.0.1",
    headers = {},
    body,
  }: { from?: string; headers?: Record<string, string>; body?: string } = {},
): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const asked = request(
      {
        host: "127.0.0.1",
        port,
        path,
        method,
        ca,
        servername: HOST,
        localAddress: from,
        headers: { host: HOST, ...headers },
      },
      async (answer) => {
        let text = "";
        for await (const chunk of answer) text += chunk;
        resolve({ status: answer.statusCode ?? 0, headers: answer.headers, text });
      },
    );
    asked.on("error", reject);
    asked.end(body);
  });
}

/** A form sent by a browser that sits at this address. */
async function sendFrom(from: string, proxy: { port: number; ca: string }, n: number) {
  const body = JSON.stringify({
    name: `Visitor ${n}`,
    phone: `(${300 + n}) 555-0142`,
    submission_id: `p${n}`,
  });
  const headers = { "content-type": "application/json", origin: "https://www.tarnholt.example" };
  const { status, text } = await ask(proxy, "POST", "/api/v1/intake/plan-your-sauna", {
    from,
    headers,
    body,
  });
  return { status, quarantined: JSON.parse(text).quarantined as boolean };
}

/** A desk behind nginx. */
async function behind(env: Record<string, string>, real = false) {
  const data = await dataFolder();
  cleanUp.push(data.remove);
  const folder = await dataFolder();
  cleanUp.push(folder.remove);
  const desk = await startServer(data.path, { env: { ...env, KITEBELL_URL: `https://${HOST}` }, real });
  cleanUp.push(() => desk.stop());
  return { desk, proxy: await startProxy(folder.path, new URL(desk.origin).port) };
}

async function visitors(env: Record<string, string>) {
  const { desk, proxy } = await behind(env);
  const answers = [];
  for (let n = 1; n <= 100; n++) answers.push(await sendFrom(`127.0.0.${n + 1}`, proxy, n));
  const { items } = (await client(desk.origin).get("/quarantine?limit=200")).body;
  return { answers, held: items.length as number };
}

it("through a proxy that is named, a hundred visitors of different addresses in a minute are all taken", async () => {
  const { answers, held } = await visitors({ KITEBELL_PROXIES: "127.0.0.1" });
  expect(answers.filter((a) => a.status !== 202 || a.quarantined)).toEqual([]);
  expect(held).toBe(0);
});

it("through one that is not, they seem one address: most are held, and each is kept", async () => {
  const { answers, held } = await visitors({});
  expect(answers.filter((a) => a.status !== 202)).toEqual([]);
  expect(held).toBe(88);
});

it("a real desk is begun, left and come back to over TLS: its cookie goes over TLS alone, and browsers are told to stay there", async () => {
  const { proxy } = await behind({ KITEBELL_PROXIES: "127.0.0.1" }, true);
  const form = (fields: Record<string, string>) => ({
    headers: {
      "content-type": "application/x-www-form-urlencoded",
      origin: `https://${HOST}`,
      "sec-fetch-site": "same-origin",
    },
    body: new URLSearchParams(fields).toString(),
  });
  const first = await ask(proxy, "GET", "/");
  expect([first.status, first.headers.location]).toEqual([302, expect.stringContaining("/sign-in")]);
  expect(first.headers["strict-transport-security"]).toMatch(/^max-age=\d{7,}/);
  const begun = await ask(
    proxy,
    "POST",
    "/sign-in",
    form({ ...ADA, company: "Tarnholt", name: "Ada Oyelaran", zone: "America/Denver" }),
  );
  const cookies = begun.headers["set-cookie"] ?? [];
  expect(cookies.length).toBeGreaterThan(0);
  for (const cookie of cookies) expect(cookie).toMatch(/;\s*Secure/i);
  const cookie = cookies.map((c) => c.split(";")[0]).join("; ");
  const me = await ask(proxy, "GET", "/api/v1/queue", { headers: { cookie } });
  expect(me.status).toBe(200);
  // Said by nobody who may forward: an address of the same name that is not this one.
  const foreign = await ask(proxy, "POST", "/api/v1/leads", {
    headers: { cookie, origin: "https://www.example.com", "content-type": "application/json" },
    body: "{}",
  });
  expect(foreign.status).toBe(403);
});
