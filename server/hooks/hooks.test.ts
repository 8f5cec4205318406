import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { Webhook } from "standardwebhooks";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { handOver } from "../../core/desk/hand-over.ts";
import type { HookEvent } from "../../core/policy/hooks.ts";
import { NINE, testDesk } from "../../tests/support/desk.ts";
import { MovableClock } from "../clock.ts";
import type { Desk } from "../desk.ts";
import { newSecret } from "./hooks.ts";

/** A system outside that answers as it is told to. */
class Receiver {
  readonly got: { id: string; body: string; headers: Record<string, string> }[] = [];
  answers: (number | "hang")[] = [];
  says = "{}";
  url = "";
  #server: Server | null = null;

  async open(): Promise<void> {
    this.#server = createServer((request, response) => {
      let body = "";
      request.on("data", (part) => {
        body += part;
      });
      request.on("end", () => {
        const headers = request.headers as Record<string, string>;
        this.got.push({ id: headers["webhook-id"] ?? "", body, headers });
        const next = this.answers.shift() ?? 200;
        if (next === "hang") {
          request.socket.destroy();
          return;
        }
        response.statusCode = next;
        response.end(this.says);
      });
    });
    await new Promise<void>((ready) => this.#server!.listen(0, "127.0.0.1", ready));
    this.url = `http://127.0.0.1:${(this.#server!.address() as AddressInfo).port}/in`;
  }

  close(): void {
    this.#server?.close();
  }
}

let desk: Desk;
let clock: MovableClock;
let one: Receiver;
let two: Receiver;

beforeEach(async () => {
  clock = new MovableClock(NINE, { frozen: true });
  desk = await testDesk({ clock, hooksInside: () => true });
  one = new Receiver();
  two = new Receiver();
  await one.open();
  await two.open();
});
afterEach(async () => {
  one.close();
  two.close();
  await desk.close();
});

function tell(receiver: Receiver, name: string, events: HookEvent[] = ["lead.handed-over"]) {
  const secret = newSecret();
  const saved = desk.customers.saveHook("p_oskar", { name, url: receiver.url, events, on: true, secret });
  if (!saved.ok) throw new Error(saved.problem.detail);
  return { id: saved.id!, secret };
}

let people = 0;
async function over(): Promise<{ leadId: string; dealId: string }> {
  const n = ++people;
  const source = desk.setup.sources.find((s) => s.key === "plan-your-sauna")!;
  const raw = Buffer.from(
    JSON.stringify({ name: `Lead ${n}`, phone: `303 555 ${1000 + n}`, product: "barrel" }),
  );
  const { leadId } = await desk.intake.submit(source, { contentType: "application/json", headers: {}, raw });
  if (!leadId) throw new Error("It was not understood.");
  const done = desk.act(leadId, (w) =>
    handOver(w, "p_mara", { company: null, contact: {}, deal: { value: 5 } }),
  );
  if (!done.ok) throw new Error(done.problem.detail);
  return { leadId, dealId: done.plan.after.handedOver!.dealId! };
}

const states = () => desk.hooks.deliveries(null, 50).map((d) => [d.state, d.attempts, d.status]);

describe("other systems", () => {
  it("each hears of what it wants to hear of, by its own secret", async () => {
    const first = tell(one, "One");
    const second = tell(two, "Two", ["deal.won"]);
    desk.hooks.start();
    await over();
    await desk.hooks.drained();
    expect([one.got.length, two.got.length]).toEqual([1, 0]);
    const { body, headers } = one.got[0]!;
    expect(() => new Webhook(first.secret).verify(body, headers)).not.toThrow();
    expect(() => new Webhook(second.secret).verify(body, headers)).toThrow();
    expect(JSON.parse(body)).toMatchObject({
      type: "lead.handed-over",
      data: { deal: { value: 5, currency: "USD" } },
    });
  });

  it("are told again after a failure under the same id, with growing pauses, until it is given up", async () => {
    tell(one, "One");
    one.answers = [500, "hang", 503, 500, 500, 500, 500, 500];
    desk.hooks.start();
    await over();
    await desk.hooks.drained();
    expect(states()).toEqual([["queued", 1, 500]]);
    for (let n = 0; n < 7; n++) {
      clock.hold(desk.hooks.deliveries(null, 1)[0]!.nextAt);
      desk.hooks.kick();
      await desk.hooks.drained();
    }
    expect(states()).toEqual([["dead", 8, 500]]);
    expect(new Set(one.got.map((g) => g.id)).size).toBe(1);
    const { id } = desk.hooks.deliveries(null, 1)[0]!;
    expect(desk.hooks.resend(id)).toBe(true);
    await desk.hooks.drained();
    expect(states()).toEqual([["delivered", 1, 200]]);
    expect(one.got.at(-1)?.id).toBe(id);
  });

  it("one that is down holds up no other", async () => {
    tell(one, "One");
    tell(two, "Two");
    one.answers = [500, 500, 500];
    desk.hooks.start();
    for (let n = 0; n < 3; n++) await over();
    await desk.hooks.drained();
    expect(two.got).toHaveLength(3);
    expect(states().filter(([state]) => state === "queued")).toHaveLength(3);
  });

  it("what it answers is kept: its words, and what it calls the deal", async () => {
    tell(one, "Ledger");
    one.says = JSON.stringify({ id: 77, more: "x".repeat(9_000) });
    desk.hooks.start();
    const { dealId } = await over();
    await desk.hooks.drained();
    expect(desk.hooks.deliveries(null, 1)[0]?.said).toHaveLength(2_000);
    expect(desk.looker.book.record(dealId)).toMatchObject({ theirs: { Ledger: "77" } });
  });

  it("switched off, removed, or without a secret, it is told no more", async () => {
    const { id } = tell(one, "One");
    await over();
    desk.customers.saveHook("p_oskar", {
      id,
      name: "One",
      url: one.url,
      events: ["lead.handed-over"],
      on: false,
    });
    desk.hooks.start();
    await desk.hooks.drained();
    expect(one.got).toHaveLength(0);
    expect(states()).toEqual([["dead", 1, null]]);
    await over();
    expect(desk.hooks.deliveries(null, 50)).toHaveLength(1);
  });

  it("a set-up that is undone tells nobody: what is queued stands or falls with what happened", async () => {
    tell(one, "One");
    expect(() =>
      desk.sql.transaction(() => {
        desk.customers.sendOn("deal_none");
        throw new Error("the disk is full");
      }),
    ).toThrow("the disk is full");
    expect(desk.hooks.deliveries(null, 50)).toEqual([]);
  });

  it.each([
    [{ secret: "short" }, "secret"],
    [{ url: "ftp://x.example" }, "hooks.0.url"],
    [{ name: " " }, "hooks.0.name"],
  ])("%j is refused, naming the field", (more, path) => {
    const saved = desk.customers.saveHook("p_oskar", {
      name: "One",
      url: one.url,
      events: ["deal.won"],
      on: true,
      ...more,
    });
    expect(saved.ok ? null : saved.problem.errors?.[0]?.path).toBe(path);
  });

  it("in this house’s own network it is told nothing, unless whoever runs the desk allows it", async () => {
    await desk.close();
    desk = await testDesk({ clock });
    tell(one, "One");
    desk.hooks.start();
    await over();
    await desk.hooks.drained();
    expect(one.got).toHaveLength(0);
    expect(desk.hooks.deliveries(null, 1)[0]?.said).toContain("is an address of this house");
  });

  it("a secret is kept sealed, and written nowhere in the set-up", () => {
    const { id, secret } = tell(one, "One");
    expect(desk.kept.secret(`hook:${id}`)).not.toContain(secret.slice(6));
    expect(JSON.stringify(desk.setup)).not.toContain(secret);
  });
});
