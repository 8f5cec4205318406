import { join } from "node:path";
import { afterAll, expect, it, vi } from "vitest";
import { Sql } from "../../server/db/sql.ts";
import { Reader } from "../../server/read/reader.ts";
import { verify } from "../../server/verify-desk.ts";
import { startGateway } from "../../standins/gateway.ts";
import { startMailbox } from "../../standins/mailbox.ts";
import { Outside } from "../../standins/outside.ts";
import { seeded } from "../support/fuzz.ts";
import { thingsTold } from "../support/promises.ts";
import { client, dataFolder, freePort, type Running, startServer } from "../support/server.ts";

/** The server is killed with -9 again and again, under a load of inquiries and due timers; then everything is counted. */

/** Moments are drawn from this; the same seed draws the same ones. */
const SEED = Number(process.env.KITEBELL_SEED) || Date.now() % 1_000_000;
const chance = seeded(SEED);
const ROUNDS = 6;
const SENDERS = 8;
/** How many inquiries a server acknowledges at most before it is killed. */
const MOST = 16;

const outside = new Outside(() => Date.now());
const cleanUp: (() => Promise<void>)[] = [];
afterAll(async () => {
  for (const close of cleanUp.reverse()) await close();
});

interface Told {
  readonly inquiryId: string;
  readonly leadId: string | null;
}

const phoneOf = (n: number) =>
  `303 ${String(200 + Math.floor(n / 10_000))} ${String(n % 10_000).padStart(4, "0")}`;
const submission = (n: number) => ({
  name: `Sender ${n}`,
  phone: phoneOf(n),
  product: "barrel",
  submission_id: `crash-${n}`,
});

/**
 * Send until the server dies, which it does at a moment by chance once it has acknowledged `enough`; what was
 * acknowledged is kept in `told`.
 */
async function load(
  server: Running,
  next: () => number,
  told: Map<number, Told>,
  enough: number,
): Promise<void> {
  const api = client(server.origin);
  let left = enough;
  const sender = async () => {
    for (;;) {
      const n = next();
      try {
        const { status, body } = await api.post("/intake/plan-your-sauna", submission(n));
        if (status !== 202) continue;
        told.set(n, body);
        if (--left === 0) setTimeout(() => void server.stop("SIGKILL"), chance() * 60);
      } catch {
        return;
      }
    }
  };
  const clock = async () => {
    try {
      for (;;) await api.post("/rehearsal/clock", { advance: "PT2M" });
    } catch {
      // It has been killed.
    }
  };
  await Promise.all([...Array.from({ length: SENDERS }, sender), clock()]);
}

it("nothing acknowledged is lost, nothing happens twice, whatever is killed when", async () => {
  console.log(`Killed at moments drawn with KITEBELL_SEED=${SEED}.`);
  const folder = await dataFolder();
  cleanUp.push(folder.remove);
  const [gateway, mailbox] = await Promise.all([startGateway(outside), startMailbox(outside)]);
  cleanUp.push(gateway.close, mailbox.close);
  const env = {
    KITEBELL_SMTP_URL: mailbox.url,
    KITEBELL_TEXT_URL: gateway.url,
    KITEBELL_CHAT_URL: gateway.url,
  };
  const told = new Map<number, Told>();
  let sent = 0;
  for (let round = 0; round < ROUNDS; round++) {
    const server = await startServer(folder.path, { env });
    await load(server, () => ++sent, told, 1 + Math.floor(chance() * MOST));
    await server.stop("SIGKILL");
  }
  // Every sender tries again, as real ones do: what was acknowledged gets the same answer.
  const last = await startServer(folder.path, { env });
  cleanUp.push(() => last.stop());
  const api = client(last.origin);
  for (let n = 1; n <= sent; n++) {
    const { body } = await api.post("/intake/plan-your-sauna", submission(n));
    if (told.has(n)) expect(body).toMatchObject(told.get(n)!);
  }
  await api.post("/rehearsal/clock", { advance: "PT1H" });
  await last.stop();

  const sql = await Sql.open(join(folder.path, "kite-bell.db"));
  const { faults } = verify(sql);
  expect(faults).toEqual([]);
  const kept = sql.all(sql.q.selectFrom("inquiries").select(["id", "dedupe"]));
  expect(kept).toHaveLength(sent);
  const ids = new Set(kept.map((k) => k.id));
  for (const { inquiryId } of told.values()) expect(ids.has(inquiryId)).toBe(true);

  const reader = new Reader(sql);
  let rang = 0;
  for (const { id } of sql.all(sql.q.selectFrom("leads").select("id"))) {
    const kinds = reader.events(id).map((e) => e.kind);
    for (const rung of ["nudged", "rang", "stood-by"] as const)
      expect(kinds.filter((k) => k === rung).length, `${id} ${rung}`).toBe(1);
    rang += kinds.filter((k) => k === "rang").length;
  }
  const messages = sql.all(sql.q.selectFrom("outbox").select(["key", "state"]));
  expect(messages.filter((m) => m.state !== "sent")).toEqual([]);
  expect(thingsTold(outside.list())).toBe(messages.length);
  sql.close();
  console.log(
    `${ROUNDS} kills: ${sent} sent, ${told.size} acknowledged, ${kept.length} kept, ${rang} rung once each, ${messages.length} messages delivered, ${outside.repeats} repeats dropped by their key.`,
  );
  expect(told.size).toBeGreaterThanOrEqual(ROUNDS);
  expect(sent).toBeGreaterThan(told.size);
}, 480_000);

it("whoever comes while the desk is still opening is served, and not left waiting", async () => {
  const folder = await dataFolder();
  cleanUp.push(folder.remove);
  const port = await freePort();
  const starting = startServer(folder.path, { args: ["--demo", "--empty", "--port", String(port)] });
  // Refused until somebody listens; from then on each is answered.
  const first = await vi.waitFor(
    () => client(`http://127.0.0.1:${port}`).post("/intake/plan-your-sauna", submission(1)),
    { interval: 2, timeout: 120_000 },
  );
  expect(first.status).toBe(202);
  const server = await starting;
  cleanUp.push(() => server.stop());
  expect((await client(server.origin).get(`/leads/${first.body.leadId}`)).status).toBe(200);
});
