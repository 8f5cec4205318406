import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { Webhook } from "standardwebhooks";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { take } from "../../core/desk/hand-off.ts";
import { handOver } from "../../core/desk/hand-over.ts";
import { addNote } from "../../core/desk/notes.ts";
import type { Hook, HookEvent } from "../../core/policy/hooks.ts";
import { NINE, testDesk } from "../../tests/support/desk.ts";
import { DAY, HOUR, MIN } from "../../tests/support/memory.ts";
import { troublesOf } from "../bells/troubles.ts";
import { MovableClock } from "../clock.ts";
import type { Desk } from "../desk.ts";
import { HookLog } from "./hook-log.ts";
import { newSecret } from "./hooks.ts";

/** A system outside that answers as it is told to. */
class Receiver {
  readonly got: { id: string; body: string; headers: Record<string, string> }[] = [];
  answers: (number | "hang" | "half" | "never")[] = [];
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
        if (next === "never") return;
        if (next === "half") {
          response.writeHead(200, { "content-length": "100" }).write("{");
          response.socket?.destroy();
          return;
        }
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
    this.#server?.closeAllConnections();
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

function tell(
  receiver: Receiver,
  name: string,
  events: HookEvent[] = ["lead.handed-over"],
  more: Partial<Hook> = {},
) {
  const secret = newSecret();
  const hook = { name, url: receiver.url, events, on: true, ...more };
  const saved = desk.customers.saveHook("p_oskar", { ...hook, secret });
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

const states = () => desk.hooks.deliveries({}, 50).map((d) => [d.state, d.attempts, d.status]);

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
    one.answers = [500, "hang", 503, ...Array<number>(200).fill(500)];
    desk.hooks.start();
    await over();
    await desk.hooks.drained();
    expect(states()).toEqual([["queued", 1, 500]]);
    const begun = clock.now();
    const pauses: number[] = [];
    while (desk.hooks.deliveries({}, 1)[0]!.state === "queued") {
      const { nextAt } = desk.hooks.deliveries({}, 1)[0]!;
      pauses.push(nextAt - clock.now());
      clock.hold(nextAt);
      desk.hooks.kick();
      await desk.hooks.drained();
    }
    expect(states()[0]![0]).toBe("dead");
    const days = (clock.now() - begun) / DAY;
    expect(days).toBeGreaterThan(2.9);
    expect(days).toBeLessThanOrEqual(3);
    expect(pauses[0]).toBeLessThan(MIN);
    expect(Math.max(...pauses)).toBeLessThan(80 * MIN);
    one.answers = [];
    expect(new Set(one.got.map((g) => g.id)).size).toBe(1);
    const { id } = desk.hooks.deliveries({}, 1)[0]!;
    expect(troublesOf(desk).map((t) => t.said)).toContainEqual(
      expect.stringMatching(/^One has not taken .* One delivery was put aside/),
    );
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
    expect(desk.hooks.deliveries({}, 1)[0]?.said).toHaveLength(2_000);
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
    expect(desk.hooks.deliveries({}, 50)).toHaveLength(1);
  });

  it("a set-up that is undone tells nobody: what is queued stands or falls with what happened", async () => {
    tell(one, "One");
    expect(() =>
      desk.sql.transaction(() => {
        desk.customers.sendOn("deal_none");
        throw new Error("the disk is full");
      }),
    ).toThrow("the disk is full");
    expect(desk.hooks.deliveries({}, 50)).toEqual([]);
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
    expect(desk.hooks.deliveries({}, 1)[0]?.said).toContain("is an address of this house");
  });

  it("a secret is kept sealed, and written nowhere in the set-up", () => {
    const { id, secret } = tell(one, "One");
    expect(desk.kept.secret(`hook:${id}`)).not.toContain(secret.slice(6));
    expect(JSON.stringify(desk.setup)).not.toContain(secret);
  });

  const inquire = async (n: number, more: object = {}) => {
    const source = desk.setup.sources.find((s) => s.key === "plan-your-sauna")!;
    const raw = Buffer.from(
      JSON.stringify({ name: `Lead ${n}`, phone: `303 555 ${2000 + n}`, product: "barrel", ...more }),
    );
    return (await desk.intake.submit(source, { contentType: "application/json", headers: {}, raw })).leadId!;
  };
  const bodies = (receiver: Receiver) =>
    receiver.got.map(
      (g) =>
        JSON.parse(g.body) as {
          type: string;
          data: { event?: { kind: string; said: string }; lead: Record<string, unknown> };
        },
    );

  it("hear of leads by what is true of an event, of those alone that fit, and of tests never", async () => {
    tell(one, "Talk", [], { trait: "talk", when: { field: "product", is: "equal", value: "barrel" } });
    tell(two, "All", [], { trait: "all" });
    desk.hooks.start();
    const barrel = await inquire(1);
    await inquire(2, { product: "plunge" });
    desk.act(barrel, (w) => take(w, "p_mara"));
    desk.act(barrel, (w) => addNote(w, "p_mara", "Wants it by May"));
    await desk.hooks.drained();
    const kinds = bodies(one).map((b) => b.type);
    expect(kinds.filter((k) => k === "event.inquiry")).toHaveLength(1);
    expect(kinds).toContain("event.noted");
    expect(kinds).not.toContain("event.bell-started");
    expect(bodies(one).every((b) => b.data.lead.product === "barrel")).toBe(true);
    expect(bodies(two).map((b) => b.type)).toEqual(
      expect.arrayContaining(["event.bell-started", "event.offered"]),
    );
    expect(bodies(one).find((b) => b.type === "event.noted")!.data.event).toMatchObject({
      kind: "noted",
      said: "Note",
      data: { text: "Wants it by May" },
      by: { id: "p_mara" },
    });
  });

  it("are sent chosen fields, or JSON by a template; what comes to no JSON goes whole", async () => {
    tell(one, "Fields", [], { trait: "talk", sends: { kind: "fields", fields: ["name", "product"] } });
    const template =
      '{"who": {{ data.lead.name | json }}{% if data.lead.product == "plunge" %} not JSON{% endif %} }';
    tell(two, "Template", [], { trait: "talk", sends: { kind: "template", template } });
    desk.hooks.start();
    const id = await inquire(1, { name: 'Anna "Quote" Berg' });
    await desk.hooks.drained();
    expect(bodies(one)[0]!.data.lead).toEqual({ id, name: 'Anna "Quote" Berg', product: "barrel" });
    expect(JSON.parse(two.got[0]!.body)).toEqual({ who: 'Anna "Quote" Berg' });
    await inquire(2, { product: "plunge" });
    await desk.hooks.drained();
    expect(bodies(two).at(-1)).toMatchObject({ data: { lead: { product: "plunge", name: "Lead 2" } } });
  });

  it.each([
    [{ sends: { kind: "template", template: "{{ data.lead.name }}, not JSON" } }, "hooks.0.sends.template"],
    [{ sends: { kind: "template", template: "{% for a in b %}{% endfor %}{}" } }, "hooks.0.sends.template"],
    [{ sends: { kind: "fields", fields: ["nothing"] } }, "hooks.0.sends.fields.0"],
    [{ sends: { kind: "fields", fields: [] } }, "hooks.0.sends.fields"],
    [{ when: { field: "own.none", is: "known" } }, "hooks.0.when.field"],
  ] as [Partial<Hook>, string][])("%j is not taken", (more, path) => {
    const hook = { name: "One", url: one.url, events: [], on: true, ...more };
    const saved = desk.customers.saveHook("p_oskar", hook);
    expect(saved.ok ? null : saved.problem.errors?.[0]?.path).toBe(path);
  });

  it("hear of each lead in its order, once by key, whatever the other side does meanwhile; the others go on", async () => {
    tell(one, "One", [], { trait: "talk" });
    desk.hooks.start();
    const ids = [await inquire(1), await inquire(2), await inquire(3)];
    await desk.hooks.drained();
    for (let n = 0; n < 6; n++) for (const id of ids) desk.act(id, (w) => addNote(w, "p_mara", `note ${n}`));
    one.answers = [500, "half", 302, "hang", 500, 429, "half", 500];
    for (let tries = 0; desk.hooks.deliveries({ state: "queued" }, 1).length > 0; tries++) {
      expect(tries).toBeLessThan(40);
      clock.hold(clock.now() + 2 * HOUR);
      desk.hooks.kick();
      await desk.hooks.drained();
    }
    expect(desk.hooks.deliveries({ state: "dead" }, 9)).toEqual([]);
    for (const id of ids) {
      const seen = new Set<string>();
      const told = one.got.flatMap((g) => {
        const { data } = JSON.parse(g.body) as {
          data: { lead: { id: string }; event: { data: { text?: string } } };
        };
        if (data.lead.id !== id || !data.event.data.text || seen.has(g.id)) return [];
        seen.add(g.id);
        return [data.event.data.text];
      });
      expect(told).toEqual(["note 0", "note 1", "note 2", "note 3", "note 4", "note 5"]);
    }
  });

  it("that is down for two hours has everything afterwards, in order, and the desk was none the slower to decide", async () => {
    tell(one, "One", [], { trait: "talk" });
    desk.hooks.start();
    one.answers = Array<number>(1_000).fill(503);
    const id = await inquire(1);
    for (let n = 0; n < 24; n++) {
      desk.act(id, (w) => addNote(w, "p_mara", `note ${n}`));
      clock.hold(clock.now() + 5 * MIN);
      desk.hooks.kick();
      await desk.hooks.drained();
    }
    const asked = one.got.length;
    // One at a time of one lead: nobody is rushed while it is down.
    expect(asked).toBeLessThan(30);
    one.answers = [];
    clock.hold(clock.now() + 2 * HOUR);
    desk.hooks.kick();
    await desk.hooks.drained();
    const notes = bodies(one)
      .slice(asked)
      .flatMap((b) => (b.type === "event.noted" ? [b] : []));
    expect(notes).toHaveLength(24);
    expect(desk.hooks.deliveries({ state: "queued" }, 1)).toEqual([]);
  });

  it("what was taken or put aside leaves the log after ninety days, night by night; what waits stays", async () => {
    tell(one, "One");
    const { id } = tell(two, "Two");
    await over();
    const { url, events } = desk.setup.policies.hooks.find((h) => h.id === id)!;
    desk.customers.saveHook("p_oskar", { id, name: "Two", url, events, on: false });
    desk.hooks.start();
    await desk.hooks.drained();
    desk.hooks.stop();
    clock.hold(NINE + DAY);
    await over();
    const log = desk.recurring.find((r) => r instanceof HookLog)!;
    const kept = async (days: number) => {
      clock.hold(NINE + days * DAY);
      expect(log.nextDue).toBeLessThanOrEqual(clock.now());
      await log.run();
      return states().map(([state]) => state);
    };
    expect((await kept(89.9)).sort()).toEqual(["dead", "delivered", "queued"]);
    expect(await kept(91)).toEqual(["queued"]);
    expect(await kept(200)).toEqual(["queued"]);
    expect(log.nextDue).toBeGreaterThan(clock.now());
  });

  it("what was put aside, or all of a span, is sent again in its order under its own ids", async () => {
    const { id: hookId } = tell(one, "One", [], { trait: "talk" });
    desk.hooks.start();
    const id = await inquire(1);
    await desk.hooks.drained();
    const from = clock.now() + MIN;
    clock.hold(from);
    for (let n = 0; n < 3; n++) desk.act(id, (w) => addNote(w, "p_mara", `note ${n}`));
    await desk.hooks.drained();
    const first = one.got.slice(-3).map((g) => g.id);
    expect(desk.hooks.resendSpan(hookId, { from, state: "delivered" })).toBe(3);
    await desk.hooks.drained();
    expect(one.got.slice(-3).map((g) => g.id)).toEqual(first);
    expect(desk.hooks.resendSpan(hookId, { state: "dead" })).toBe(0);
    expect(desk.hooks.resendSpan("hook_none", {})).toBe(0);
  });

  it("a secret that is replaced signs beside the new one for a day, and no longer", async () => {
    const { id: hookId, secret: before } = tell(one, "One", [], { trait: "talk" });
    desk.hooks.start();
    const fresh = desk.hooks.secrets.rotate(hookId);
    const verified = (n: number) =>
      [before, fresh].map((secret) => {
        try {
          const { body, headers } = one.got.at(n)!;
          new Webhook(secret).verify(body, headers);
          return true;
        } catch {
          return false;
        }
      });
    await inquire(1);
    await desk.hooks.drained();
    expect(verified(-1)).toEqual([true, true]);
    expect(desk.hooks.secrets.bothUntil(hookId)).toBe(NINE + DAY);
    clock.hold(NINE + DAY + 1);
    await inquire(2);
    await desk.hooks.drained();
    expect(verified(-1)).toEqual([false, true]);
    desk.hooks.secrets.rotate(hookId);
    desk.hooks.secrets.endRotation(hookId);
    await inquire(3);
    await desk.hooks.drained();
    expect(verified(-1)).toEqual([false, false]);
  });

  it("a host of this house’s own network that an administrator has allowed is told, and no other", async () => {
    await desk.close();
    desk = await testDesk({ clock });
    tell(one, "One", [], { trait: "talk", inside: true });
    tell(two, "Two", [], { trait: "talk" });
    desk.hooks.start();
    await inquire(1);
    await desk.hooks.drained();
    expect(one.got.length).toBeGreaterThan(0);
    expect(two.got).toEqual([]);
  });
});
