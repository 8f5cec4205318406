import { type ChildProcess, spawn } from "node:child_process";
import { readFile, writeFile } from "node:fs/promises";
import { request } from "node:http";
import { join } from "node:path";
import { afterEach, expect, it, vi } from "vitest";
import { client, dataFolder, freePort, startServer } from "../support/server.ts";

/** A hundred visitors from a hundred addresses, through nginx as the README sets it up. */

const cleanUp: (() => unknown)[] = [];
afterEach(async () => {
  for (const done of cleanUp.splice(0).reverse()) await done();
});

/** Start nginx before a desk, with the block that stands in the README. */
async function startProxy(folder: string, deskPort: string): Promise<number> {
  const readme = await readFile(join(import.meta.dirname, "../../README.md"), "utf8");
  const port = await freePort();
  const block = /```nginx\n([\s\S]*?)```/
    .exec(readme)![1]!
    .replace("listen 443 ssl;", `listen 127.0.0.1:${port};`)
    .replace("127.0.0.1:4321", `127.0.0.1:${deskPort}`);
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
  await vi.waitFor(() => fetch(`http://127.0.0.1:${port}/api/v1/health`), { timeout: 120_000, interval: 50 });
  return port;
}

/** A form sent by a browser that sits at this address. */
function sendFrom(
  address: string,
  port: number,
  n: number,
): Promise<{ status: number; quarantined: boolean }> {
  const body = JSON.stringify({
    name: `Visitor ${n}`,
    phone: `(${300 + n}) 555-0142`,
    submission_id: `p${n}`,
  });
  return new Promise((resolve, reject) => {
    const sent = request(
      {
        host: "127.0.0.1",
        port,
        path: "/api/v1/intake/plan-your-sauna",
        method: "POST",
        localAddress: address,
        headers: { "content-type": "application/json", origin: "https://www.tarnholt.example" },
      },
      async (answer) => {
        let text = "";
        for await (const chunk of answer) text += chunk;
        resolve({ status: answer.statusCode ?? 0, quarantined: JSON.parse(text).quarantined });
      },
    );
    sent.on("error", reject);
    sent.end(body);
  });
}

async function visitors(env: Record<string, string>) {
  const data = await dataFolder();
  cleanUp.push(data.remove);
  const proxy = await dataFolder();
  cleanUp.push(proxy.remove);
  const desk = await startServer(data.path, { env });
  cleanUp.push(() => desk.stop());
  const port = await startProxy(proxy.path, new URL(desk.origin).port);
  const answers = [];
  for (let n = 1; n <= 100; n++) answers.push(await sendFrom(`127.0.0.${n + 1}`, port, n));
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
