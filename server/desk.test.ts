import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { take } from "../core/desk/hand-off.ts";
import { logTry } from "../core/desk/work.ts";
import { mapTo, NO_MAPPING } from "../core/policy/mapping.ts";
import { tarnholt } from "../demo/tarnholt.ts";
import { AdPlatform } from "../standins/ad-platform.ts";
import { Outside } from "../standins/outside.ts";
import { Phones } from "../standins/phones.ts";
import { testDesk } from "../tests/support/desk.ts";
import type { OutChannel, Parcel } from "./channels/channel.ts";
import { MovableClock } from "./clock.ts";
import type { Desk } from "./desk.ts";
import { backOff, MAX_ATTEMPTS } from "./outbox/outbox.ts";
import { Rehearsal } from "./rehearsal/rehearsal.ts";
import { verify } from "./verify-desk.ts";

const START = Date.parse("2026-03-04T16:00:00Z");
const MIN = 60_000;
const site = tarnholt.sources.find((s) => s.key === "plan-your-sauna")!;

let clock: MovableClock;
let desk: Desk;
let delivered: Parcel[];
let failing: string | null;
/** The one address nothing gets through to. */
let unreachable: string | null;

beforeEach(async () => {
  clock = new MovableClock(START, { frozen: true });
  delivered = [];
  failing = null;
  unreachable = null;
  const channel: OutChannel = {
    deliver: async (parcel) => {
      if (failing) throw new Error(failing);
      if (parcel.toAddress === unreachable) throw new Error("Try again later.");
      delivered.push(parcel);
    },
    close: async () => {},
  };
  desk = await testDesk({
    clock,
    channels: { email: channel, text: channel, chat: channel },
    url: "https://desk.example",
    chance: () => 0.5,
  });
  desk.outbox.start();
});
afterEach(async () => {
  expect(verify(desk.sql).faults).toEqual([]);
  await desk.close();
});

const post = (fields: object, headers: Record<string, string> = {}, type = "application/json") =>
  desk.intake.submit(site, {
    contentType: type,
    headers,
    raw: Buffer.from(type.endsWith("json") ? JSON.stringify(fields) : String(fields)),
  });
const ana = { name: "Ana Ruiz", phone: "303-555-0123", email: "ana@example.com", product: "barrel" };
const rows = (table: "inquiries" | "leads" | "events" | "outbox" | "timers") =>
  desk.sql.all(desk.sql.q.selectFrom(table).selectAll());
const advance = async (ms: number) => {
  const until = clock.now() + ms;
  while (desk.timers.nextDue <= until) {
    clock.hold(Math.max(clock.now(), desk.timers.nextDue));
    desk.timers.runDue();
    await desk.outbox.drained();
  }
  clock.hold(until);
  await desk.outbox.drained();
};
const kinds = (leadId: string) => desk.reader.events(leadId).map((e) => e.kind);

describe("intake", () => {
  it("stores the original, makes a lead and queues what follows in one piece", async () => {
    const receipt = await post(ana);
    expect(receipt).toMatchObject({ matched: "new", quarantined: false });
    const [inquiry] = rows("inquiries");
    expect(JSON.parse(String((inquiry as { raw: Buffer }).raw))).toEqual(ana);
    await desk.outbox.drained();
    expect(delivered.map((p) => p.channel).sort()).toEqual(["chat", "email", "text", "text"]);
  });
  it("makes one lead of the same phone in two spellings, with two inquiries", async () => {
    const first = await post(ana);
    const second = await post({ ...ana, phone: "+1 (303) 555 0123", email: "other@example.org" });
    expect(second).toMatchObject({ leadId: first.leadId, matched: "sure" });
    expect(desk.look(first.leadId).lead).toMatchObject({
      inquiries: 2,
      emails: ["ana@example.com", "other@example.org"],
    });
  });
  it("makes one inquiry of a submission that comes twice, also at the same instant", async () => {
    const sent = { ...ana, submission_id: "s-1" };
    const receipts = await Promise.all([post(sent), post(sent), post(sent)]);
    expect(new Set(receipts.map((r) => r.inquiryId)).size).toBe(1);
    expect(rows("inquiries")).toHaveLength(1);
  });
  it("takes an Idempotency-Key for the same purpose", async () => {
    const a = await post(ana, { "idempotency-key": "k" });
    expect(await post({ ...ana, phone: "303-555-0199" }, { "idempotency-key": "k" })).toEqual(a);
  });
  it.each([
    ["{broken", "application/json", "could not be read as application/json"],
    [
      "name=Ana&color=red",
      "application/x-www-form-urlencoded",
      "No field carries a phone number or mail address",
    ],
    ["phone=call+me", "application/x-www-form-urlencoded", "“call me” is neither"],
    ["%PDF-1.7", "application/pdf", "There is no reader for “application/pdf”"],
  ])("quarantines %s as %s", async (raw, type, reason) => {
    const receipt = await desk.intake.submit(site, { contentType: type, headers: {}, raw: Buffer.from(raw) });
    expect(receipt).toMatchObject({ quarantined: true, leadId: null, matched: "none" });
    expect(desk.reader.quarantine(10)[0]!.reason).toContain(reason);
  });
  it("replays from quarantine into a lead once, and keeps it there while nothing has changed", async () => {
    const { inquiryId } = await desk.intake.submit(
      { ...site, mapping: NO_MAPPING },
      { contentType: "application/json", headers: {}, raw: Buffer.from('{"rückruf":"303 555 0123"}') },
    );
    expect(await desk.quarantine.replay(inquiryId)).toMatchObject({ quarantined: true });
    desk.changeSetup({
      ...tarnholt,
      sources: tarnholt.sources.map((s) =>
        s.id === site.id ? { ...s, mapping: mapTo({ rückruf: "phone" }) } : s,
      ),
    });
    const replayed = await desk.quarantine.replay(inquiryId);
    expect(replayed).toMatchObject({ quarantined: false });
    expect(desk.look(replayed!.leadId).lead!.phones).toEqual(["+13035550123"]);
    expect(await desk.quarantine.replay(inquiryId)).toBeNull();
    expect(rows("leads")).toHaveLength(1);
  });
  it("reads a multipart form", async () => {
    const form = new FormData();
    form.set("phone", "303 555 0123");
    const response = new Response(form);
    const receipt = await desk.intake.submit(site, {
      contentType: response.headers.get("content-type")!,
      headers: {},
      raw: Buffer.from(await response.arrayBuffer()),
    });
    expect(receipt.quarantined).toBe(false);
  });
});

describe("timers", () => {
  it("run each rung once at its due second, the night switched off or not", async () => {
    const { leadId } = await post(ana);
    desk.act(leadId, (world) => take(world, "p_mara"));
    await advance(60 * MIN);
    const told = desk.reader.events(leadId!).filter((e) => ["nudged", "rang", "stood-by"].includes(e.kind));
    expect(told.map((e) => (e.at - START) / MIN)).toEqual([3, 5, 15]);
  });
  it("that fell due while the desk was off run in order when it is back, but for what makes no sense any more", async () => {
    const { leadId } = await post(ana);
    desk.act(leadId, (world) => take(world, "p_mara"));
    clock.hold(START + 9 * 60 * MIN);
    desk.timers.refresh();
    while (desk.timers.nextDue <= clock.now()) desk.timers.runDue();
    const rungs = desk.reader
      .events(leadId!)
      .flatMap((e) =>
        e.kind === "climbed" && e.data.bell === "inquiry"
          ? [`${e.data.act}${e.data.skipped ? ` ${e.data.skipped}` : ""}`]
          : ["nudged", "rang", "stood-by"].includes(e.kind)
            ? [e.kind]
            : [],
      );
    expect(rungs).toEqual(["nudge late by 8 h 57 min: the desk was off", "rang", "manager", "stood-by"]);
    const rang = desk.reader.events(leadId!).find((e) => e.kind === "rang");
    expect(rang?.data).toMatchObject({ late: 9 * 60 * MIN - 5 * MIN });
  });
  it("leave a lead alone that was answered", async () => {
    const { leadId } = await post(ana);
    desk.act(leadId, (world) => logTry(world, { personId: "p_mara", channel: "call", outcome: "voicemail" }));
    const running = (rows("timers") as unknown as { id: string }[]).map(
      (t) => t.id.split(":")[2]!.split(".")[0],
    );
    // The response bell is over; what runs now watches over the step the outcome set, and over further tries.
    expect(running.sort()).toEqual(["overdue", "stalled"]);
    await advance(24 * 60 * MIN);
    expect(kinds(leadId!)).not.toContain("rang");
  });
});

describe("outbox", () => {
  const mails = () =>
    (
      rows("outbox") as unknown as {
        channel: string;
        state: string;
        attempts: number;
        error: string;
        id: string;
        toAddress: string;
        nextAt: number;
      }[]
    ).filter((m) => m.channel === "email");
  const mailTo = (address: string) => mails().find((m) => m.toAddress === address)!;
  it("tries one that alone does not get through again and again, then leaves it to a person, who can send it again", async () => {
    unreachable = "ana@example.com";
    await post({ email: "ana@example.com" });
    await desk.outbox.drained();
    expect(mailTo("ana@example.com")).toMatchObject({ state: "queued", attempts: 1 });
    for (let i = 0; i < MAX_ATTEMPTS; i++) {
      // Others get through meanwhile.
      await post({ email: `other${i}@example.com` });
      await desk.outbox.drained();
      clock.hold(clock.now() + 20 * MIN);
      await desk.outbox.drained();
    }
    expect(mailTo("ana@example.com")).toMatchObject({ state: "dead" });
    unreachable = null;
    expect(desk.outbox.resend(mailTo("ana@example.com").id)).toBe("queued");
    await desk.outbox.drained();
    expect(mailTo("ana@example.com")).toMatchObject({ state: "sent", error: null });
  });
  it("gives up none while nothing gets through at all, and sends them as soon as something does", async () => {
    failing = "The mail server is away.";
    for (let i = 0; i < 3; i++) await post({ email: `ana${i}@example.com` });
    for (let i = 0; i < 3 * MAX_ATTEMPTS; i++) {
      clock.hold(clock.now() + 20 * MIN);
      await desk.outbox.drained();
    }
    expect(mails().map((m) => m.state)).toEqual(["queued", "queued", "queued"]);
    expect(Math.max(...mails().map((m) => m.attempts))).toBeGreaterThan(MAX_ATTEMPTS);
    await post({ email: "late@example.com" });
    await desk.outbox.drained();
    const later = (m: { nextAt: number }) => m.nextAt;
    const first = Math.min(...mails().map(later));
    expect(Math.max(...mails().map(later))).toBeGreaterThan(first);
    failing = null;
    clock.hold(first);
    await desk.outbox.drained();
    // The first of them that is due brings the others with it.
    expect(mails().map((m) => m.state)).toEqual(["sent", "sent", "sent", "sent"]);
  });
  it("pauses twice as long each time, up to a quarter of an hour", () => {
    expect([1, 2, 3, 8, 20].map((n) => backOff(n, 0.5))).toEqual([5_000, 10_000, 20_000, 640_000, 900_000]);
  });
  it("fills in a link that only its person can use", async () => {
    await post(ana);
    await desk.outbox.drained();
    const url = delivered.find((p) => p.purpose === "hand-off")!.url!;
    const token = url.split("/t/")[1]!;
    expect(desk.links.read(token)).toMatchObject({
      personId: desk.look(desk.reader.leads({ limit: 1 }).items[0]!.id).lead!.handOff!.to[0],
    });
    expect(desk.links.read(`${token}x`)).toBeNull();
    expect(desk.links.read(token.replace(/^./, (c) => (c === "A" ? "B" : "A")))).toBeNull();
    expect(delivered.every((p) => !p.body.includes("{link}"))).toBe(true);
  });
});

describe("acts", () => {
  it("two people taking at the same instant: one has it, the other is told who", async () => {
    const { leadId } = await post(ana);
    const results = ["p_mara", "p_idris"].map((p) => desk.act(leadId, (world) => take(world, p)));
    expect(results.map((r) => r.ok)).toEqual([true, false]);
    expect(results[1]).toMatchObject({
      problem: { status: 409, detail: "Mara Whitehorse has this lead already." },
    });
  });
  it("enters by hand with the original kept, and joins a known lead", async () => {
    const entry = {
      by: "p_ines",
      source: tarnholt.sources.at(-1)!,
      goesTo: { kind: "person", id: "p_ines" },
    } as const;
    const made = desk.byHand.enter({ ...entry, fields: { name: "Walk In", phone: "303 555 0177" } });
    expect(made).toMatchObject({ ok: true, plan: { after: { ownerId: "p_ines" } } });
    expect(desk.byHand.enter({ ...entry, fields: { phone: "(303) 555-0177" } })).toMatchObject({
      ok: true,
      plan: { after: { inquiries: 2 } },
    });
    expect(desk.byHand.enter({ ...entry, fields: { name: "Only A Name" } })).toMatchObject({ ok: true });
    expect(desk.byHand.enter({ ...entry, fields: { company: "Nobody Ltd" } })).toMatchObject({
      ok: false,
      problem: { status: 422 },
    });
    expect(rows("inquiries")).toHaveLength(3);
  });
  it("puts the queue in its order, with counts", async () => {
    const waiting = await post(ana);
    await advance(MIN);
    const later = await post({ name: "Second", phone: "303 555 0124" });
    const dayEnd = START + 20 * 60 * MIN;
    expect(desk.reader.band("answer", dayEnd, 10).map((l) => l.id)).toEqual([waiting.leadId, later.leadId]);
    await advance(4 * MIN);
    expect(desk.reader.counts(dayEnd)).toEqual({ answer: 1, rung: 1, again: 0, today: 0, later: 0 });
    desk.act(waiting.leadId, (world) =>
      logTry(world, { personId: "p_mara", channel: "call", outcome: "no-answer" }),
    );
    expect(desk.reader.counts(dayEnd)).toMatchObject({ rung: 0, again: 1 });
  });
  it("finds leads by any piece, page by page", async () => {
    for (let i = 0; i < 5; i++) {
      await post({ name: `Ana ${i}`, phone: `303 555 01${10 + i}` });
      clock.hold(clock.now() + 1);
    }
    const first = desk.reader.leads({ q: "ana", sort: "created", limit: 3 });
    const second = desk.reader.leads({ q: "ana", sort: "created", limit: 3, cursor: first.next! });
    expect([...first.items, ...second.items].map((l) => l.name)).toEqual([
      "Ana 4",
      "Ana 3",
      "Ana 2",
      "Ana 1",
      "Ana 0",
    ]);
    expect(second.next).toBeNull();
    expect(desk.reader.leads({ q: "5550112", limit: 9 }).items).toHaveLength(1);
    expect(desk.reader.leads({ filter: "closed", limit: 9 }).items).toHaveLength(0);
    expect(desk.reader.leads({ filter: "waiting", limit: 9 }).items).toHaveLength(5);
  });
});

describe("rehearsal", () => {
  const rehearse = () => {
    const outside = new Outside(() => clock.now());
    const platform = new AdPlatform(() => clock.now());
    return new Rehearsal(desk, clock, {
      standins: {
        outside,
        platform,
        gatewayUrl: "",
        phones: new Phones(() => clock.now()),
        bucket: { url: "", objects: new Map() },
      },
      origin: "",
      mailPort: 0,
    });
  };
  it("moves time forward with every timer on the way, backwards only while nothing has happened", async () => {
    const rehearsal = rehearse();
    expect(await rehearsal.moveTo(START - 60 * MIN)).toHaveProperty("now");
    await rehearsal.moveTo(START);
    const { leadId } = await post(ana);
    expect(await rehearsal.moveTo(START + 6 * MIN)).toMatchObject({ timersRun: expect.any(Number) });
    expect(kinds(leadId!).filter((k) => k === "rang")).toHaveLength(1);
    expect(await rehearsal.moveTo(START)).toHaveProperty("problem");
  });
  it("a text from a known number is a reply, from another a new inquiry", async () => {
    const rehearsal = rehearse();
    const { leadId } = await post(ana);
    expect(await rehearsal.text("303-555-0123", "", "Call me")).toMatchObject({ leadId });
    expect(desk.look(leadId).lead!.replyWaiting).toBe(clock.now());
    expect(await rehearsal.text("303-555-0166", "+17205550102", "Do you ship?")).toMatchObject({
      matched: "new",
    });
    expect(await rehearsal.text("nonsense", "", "x")).toHaveProperty("problem");
  });
});
