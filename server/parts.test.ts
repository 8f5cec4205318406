import fc from "fast-check";
import { Webhook } from "standardwebhooks";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../demo/tarnholt.ts";
import { MovableClock } from "./clock.ts";
import { readConfig } from "./config.ts";
import { Sql } from "./db/sql.ts";
import { idMaker } from "./ids.ts";
import { parsePayload } from "./intake/payload.ts";
import { isSigned } from "./intake/signature.ts";
import { Links } from "./links.ts";

describe("the database", () => {
  const counters = (sql: Sql) =>
    sql.all(sql.q.selectFrom("counters").selectAll().orderBy("name")).map((c) => c.name);
  const put = (sql: Sql, name: string) => sql.run(sql.q.insertInto("counters").values({ name, value: 1 }));

  it("keeps what one savepoint did and forgets what another did", async () => {
    const sql = await Sql.open(":memory:");
    sql.transaction(() => {
      sql.transaction(() => put(sql, "kept"));
      expect(() =>
        sql.transaction(() => {
          put(sql, "lost");
          throw new Error("no");
        }),
      ).toThrow("no");
    });
    expect(counters(sql)).toEqual(["kept"]);
    sql.close();
  });
  it("forgets everything when the outermost fails, and goes on working", async () => {
    const sql = await Sql.open(":memory:");
    expect(() =>
      sql.transaction(() => {
        sql.transaction(() => put(sql, "inner"));
        throw new Error("no");
      }),
    ).toThrow("no");
    expect(counters(sql)).toEqual([]);
    sql.transaction(() => put(sql, "after"));
    expect(counters(sql)).toEqual(["after"]);
    sql.close();
  });
  it("refuses a row that refers to nothing", async () => {
    const sql = await Sql.open(":memory:");
    const orphan = { id: "t", leadId: "nobody", kind: "rung", dueAt: 1, attempts: 0 };
    expect(() => sql.run(sql.q.insertInto("timers").values(orphan))).toThrow(/FOREIGN KEY/);
    sql.close();
  });
});

describe("signatures", () => {
  it("takes the example that the specification prints, and no other body under it", () => {
    // Source: the Standard Webhooks specification's example (values from memory).
    const printed = "whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw";
    const sent = {
      "webhook-id": "msg_p5jXN8AQM9LWM0D4loKWxJek",
      "webhook-timestamp": "1614265330",
      "webhook-signature": "v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE=",
    };
    const clocks = [1_614_265_330_000];
    expect(isSigned(printed, Buffer.from('{"test": 2432232314}'), sent, clocks)).toBe(true);
    expect(isSigned(printed, Buffer.from('{"test": 2432232315}'), sent, clocks)).toBe(false);
    expect(isSigned(printed, Buffer.from('{"test": 2432232314}'), sent, [clocks[0]! + 301_000])).toBe(false);
  });

  const secret = `whsec_${Buffer.alloc(24, 3).toString("base64")}`;
  const at = Date.parse("2026-03-04T16:00:00Z");
  const body = Buffer.from('{"a":1}');
  const headers = (more: Record<string, string> = {}) => ({
    "webhook-id": "m1",
    "webhook-timestamp": String(at / 1000),
    "webhook-signature": new Webhook(secret).sign("m1", new Date(at), body.toString()),
    ...more,
  });
  it("what the package signs is accepted, also among several signatures", () => {
    expect(isSigned(secret, body, headers(), [at])).toBe(true);
    expect(
      isSigned(secret, body, headers({ "webhook-signature": `v1,AAAA ${headers()["webhook-signature"]}` }), [
        at,
      ]),
    ).toBe(true);
  });
  it.each<[string, Record<string, string>, number]>([
    ["another id", { "webhook-id": "m2" }, at],
    ["a stale time", {}, at + 301_000],
    ["a time to come", {}, at - 301_000],
    ["no number for a time", { "webhook-timestamp": "now" }, at],
    ["no signature", { "webhook-signature": "" }, at],
    ["another scheme", { "webhook-signature": "v2,xyz" }, at],
  ])("%s is refused", (_what, more, now) => expect(isSigned(secret, body, headers(more), [now])).toBe(false));
  it("a changed body is refused", () =>
    expect(isSigned(secret, Buffer.from('{"a":2}'), headers(), [at])).toBe(false));
});

describe("take links", () => {
  const links = new Links("a secret", "https://desk.example");
  const link = { leadId: "lead_1", handOffId: "ho_1", personId: "p_mara", until: 1_772_640_000_000 };
  const token = links.take(link).split("/t/")[1]!;
  it("say what they were made of", () => expect(links.read(token)).toEqual(link));
  it("made with another secret are none of ours", () =>
    expect(new Links("another", "").read(token)).toBeNull());
  it("changed anywhere are none of ours, and nothing written in their place throws", () => {
    fc.assert(
      fc.property(fc.nat({ max: token.length - 1 }), fc.constantFrom(..."AZaz09_-."), (i, c) => {
        const changed = token.slice(0, i) + c + token.slice(i + 1);
        if (changed !== token) expect(links.read(changed)).toBeNull();
      }),
    );
    fc.assert(fc.property(fc.string(), (text) => links.read(text) === null));
  });
});

describe("clocks and ids", () => {
  it("a held clock stands still, and runs on from where it is let go", () => {
    const clock = new MovableClock(1_000, { frozen: true });
    expect(clock.now()).toBe(1_000);
    clock.hold(5_000);
    expect(clock.now()).toBe(5_000);
    clock.runFrom(9_000);
    expect(clock.now()).toBeGreaterThanOrEqual(9_000);
    expect(clock.now()).toBeLessThan(60_000);
  });
  it("ids sort by birth and do not repeat", () => {
    const clock = new MovableClock(Date.parse("2026-03-04T16:00:00Z"), { frozen: true });
    const make = idMaker(clock);
    const ids = Array.from({ length: 40_000 }, () => make("lead"));
    expect(new Set(ids).size).toBe(ids.length);
    clock.hold(clock.now() + 1);
    expect(make("lead") > ids.at(-1)!).toBe(true);
  });
});

describe("payloads", () => {
  it("never reject, whatever the bytes and the type", async () => {
    const type = fc.constantFrom(
      "application/json",
      "application/x-www-form-urlencoded",
      "multipart/form-data; boundary=x",
      "multipart/form-data",
      "text/plain",
      "",
      "image/png",
    );
    await fc.assert(
      fc.asyncProperty(type, fc.uint8Array({ maxLength: 200 }), async (contentType, bytes) => {
        const parsed = await parsePayload({ contentType, headers: {}, raw: Buffer.from(bytes) });
        expect(parsed.ok || parsed.reason.length > 0).toBe(true);
      }),
    );
  });
});

describe("configuration", () => {
  it("takes the environment, and the command line before it", () => {
    expect(readConfig({ PORT: "5000", KITEBELL_DATA: "/x" }, [])).toMatchObject({
      port: 5000,
      data: "/x",
      rehearsal: false,
    });
    expect(readConfig({ PORT: "5000" }, ["--port", "6000", "--demo", "--empty"])).toMatchObject({
      port: 6000,
      demo: true,
      empty: true,
      rehearsal: true,
    });
    expect(readConfig({ KITEBELL_REHEARSAL: "1" }, []).rehearsal).toBe(true);
  });
  it("names a setting that cannot be used", () =>
    expect(() => readConfig({ PORT: "eighty" }, [])).toThrow("PORT must be a number"));
  it("the company's setup survives being kept as JSON", () =>
    expect(JSON.parse(JSON.stringify(tarnholt))).toEqual(tarnholt));
});
