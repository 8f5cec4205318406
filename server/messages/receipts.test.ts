import nodemailer from "nodemailer";
import { SMTPServer } from "smtp-server";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { take } from "../../core/desk/hand-off.ts";
import { bounceOf } from "../../standins/bounce.ts";
import type { Received } from "../../standins/outside.ts";
import { idle, testDesk } from "../../tests/support/desk.ts";
import { Refused } from "../channels/channel.ts";
import { smtpChannel } from "../channels/smtp.ts";
import type { Desk } from "../desk.ts";
import { startReceiver } from "../mail/receiver.ts";
import { verify } from "../verify-desk.ts";

/** What becomes of our messages once they have left, told by those who carry them. */

let desk: Desk;
let receiver: Awaited<ReturnType<typeof startReceiver>>;
let server: SMTPServer;
let refuses: string;
let got: { to: string; messageId: string; from: string }[];
const closing: (() => Promise<unknown>)[] = [];

beforeEach(async () => {
  got = [];
  refuses = "";
  server = new SMTPServer({
    authOptional: true,
    disabledCommands: ["STARTTLS"],
    onRcptTo: (_to, _session, done) =>
      done(refuses ? Object.assign(new Error(refuses), { responseCode: 550 }) : null),
    onData: (stream, { envelope }, done) => {
      const chunks: Buffer[] = [];
      stream.on("data", (chunk: Buffer) => chunks.push(chunk));
      stream.on("end", () => {
        const [, messageId = ""] = /^message-id:\s*(<.+>)/im.exec(Buffer.concat(chunks).toString()) ?? [];
        const { mailFrom, rcptTo } = envelope;
        got.push({ to: rcptTo[0]!.address, from: mailFrom ? mailFrom.address : "", messageId });
        done();
      });
    },
  });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  const { port } = server.server.address() as { port: number };
  desk = await testDesk({
    channels: { email: smtpChannel(`smtp://127.0.0.1:${port}?ignoreTLS=true`), text: idle, chat: idle },
  });
  receiver = await startReceiver(desk, { port: 0, host: "127.0.0.1" });
  desk.outbox.start();
  closing.push(
    () => receiver.close(),
    () => desk.close(),
    () => new Promise<void>((r) => server.close(() => r())),
  );
});
afterEach(async () => {
  expect(verify(desk.sql).faults).toEqual([]);
  for (const close of closing.splice(0)) await close();
});

/** A lead who left a mail address and a number, is taken, and had a first reply. */
async function answered(email: string): Promise<string> {
  const site = desk.setup.sources.find((s) => s.key === "plan-your-sauna")!;
  const raw = Buffer.from(
    JSON.stringify({ name: "Ana Ruiz", email, phone: "303-555-0123", product: "barrel" }),
  );
  const { leadId } = await desk.intake.submit(site, { contentType: "application/json", headers: {}, raw });
  const offer = desk.looker.lead(leadId!)?.handOff;
  if (offer) desk.act(leadId, (world) => take(world, offer.to[0]!));
  await desk.outbox.drained();
  return leadId!;
}
const mailsOf = (leadId: string) =>
  desk.reader.messages(leadId).filter((m) => m.channel === "email" && m.to.includes("example.com"));
const kinds = (leadId: string) => desk.reader.events(leadId).map((e) => e.kind);

/** A mail server reports on a mail the desk has sent. */
async function report(about: (typeof got)[number], change = (raw: string) => raw, to = about.from) {
  const message = { ...about, headers: { "message-id": about.messageId } } as unknown as Received;
  const transport = nodemailer.createTransport({ host: "127.0.0.1", port: receiver.port, ignoreTLS: true });
  await transport
    .sendMail({ envelope: { from: "", to }, raw: change(bounceOf(message)) })
    .finally(() => transport.close());
}

describe("a mail that comes back", () => {
  it("has failed, with the reason in the thread, and nothing more goes there on its own", async () => {
    const leadId = await answered("ana@example.com");
    expect(mailsOf(leadId)).toMatchObject([{ state: "sent", error: null }]);
    await report(got[0]!);
    expect(mailsOf(leadId)).toMatchObject([{ state: "dead", error: "there is no such mailbox" }]);
    const bounce = desk.reader.events(leadId).find((e) => e.kind === "undelivered");
    expect(bounce?.data).toMatchObject({ to: "ana@example.com", because: "there is no such mailbox" });
    expect(desk.looker.lead(leadId)?.bounces.map((b) => b.to)).toEqual(["ana@example.com"]);
    // Whoever has the lead is told; the report itself is no message of theirs.
    expect(desk.reader.events(leadId).findLast((e) => e.kind === "alerted")?.data).toMatchObject({
      about: "undelivered",
      personId: desk.looker.lead(leadId)?.ownerId,
    });
    expect(kinds(leadId)).not.toContain("message-in");
    const again = await answered("ana@example.com");
    expect(again).toBe(leadId);
    expect(got).toHaveLength(1);
  });
  it("reported twice has failed once", async () => {
    const leadId = await answered("ana@example.com");
    await report(got[0]!);
    await report(got[0]!, (raw) => raw.replace("Undelivered mail", "Once more: undelivered mail"));
    expect(kinds(leadId).filter((k) => k === "undelivered")).toHaveLength(1);
  });
  it("only late is said in the thread and has not failed", async () => {
    const leadId = await answered("ana@example.com");
    await report(got[0]!, (raw) => raw.replace("Action: failed", "Action: delayed"));
    expect(mailsOf(leadId)).toMatchObject([{ state: "sent" }]);
    expect(kinds(leadId)).not.toContain("undelivered");
    expect(desk.looker.lead(leadId)?.replyWaiting).toBeNull();
  });
  it("is delivered when its server says so, and not yet when it was only passed on", async () => {
    const leadId = await answered("ana@example.com");
    const says = (action: string) =>
      report(got[0]!, (raw) => raw.replace("Action: failed", `Action: ${action}`));
    await says("relayed");
    expect(mailsOf(leadId)).toMatchObject([{ state: "sent" }]);
    await says("delivered");
    expect(mailsOf(leadId)).toMatchObject([{ state: "delivered", error: null }]);
    expect(kinds(leadId)).not.toContain("undelivered");
  });
  it("by somebody’s own making changes nothing: the Message-ID is ours alone to give", async () => {
    const leadId = await answered("ana@example.com");
    const forged = got[0]!.messageId.replace(/\.[\w-]{16}@/, ".AAAAAAAAAAAAAAAA@");
    await report({ ...got[0]!, messageId: forged });
    expect(mailsOf(leadId)).toMatchObject([{ state: "sent" }]);
    expect(kinds(leadId)).not.toContain("undelivered");
  });
  it("to the company’s own address is taken too; nothing else without a sender is", async () => {
    const leadId = await answered("ana@example.com");
    const { email } = desk.setup.policies.company;
    const { sources, ...rest } = desk.setup;
    desk.changeSetup({ ...rest, sources: sources.filter((s) => s.line !== email) });
    await expect(
      report(got[0]!, (raw) => raw.replace("Action: failed", "Action: eaten"), email),
    ).rejects.toThrow(/reports of its own mails only/);
    await report(got[0]!, (raw) => raw, email);
    expect(mailsOf(leadId)).toMatchObject([{ state: "dead" }]);
  });
});

describe("a mail that is refused at once", () => {
  it("for its address has failed and is not tried again; the way is well", async () => {
    refuses = "5.1.1 <ana@example.com>: user unknown";
    const leadId = await answered("ana@example.com");
    expect(mailsOf(leadId)).toMatchObject([
      { state: "dead", attempts: 0, error: "there is no such mailbox" },
    ]);
    expect(kinds(leadId)).toContain("undelivered");
    expect(desk.outbox.outages()).toEqual([]);
  });
  it("for who we are waits: the way is at fault", async () => {
    refuses = "5.7.1 relaying denied";
    const leadId = await answered("ana@example.com");
    expect(mailsOf(leadId)).toMatchObject([{ state: "queued", attempts: 1 }]);
    expect(desk.outbox.waiting("email")).toBeGreaterThan(0);
    expect(kinds(leadId)).not.toContain("undelivered");
  });
});

describe("a text", () => {
  it("is delivered, or has failed, as the gateway says; its last word counts once", async () => {
    const leadId = await answered("ana@example.com");
    desk.sql.run(
      desk.sql.q.insertInto("outbox").values(
        ["a", "b"].map((key) => ({
          ...{
            id: key,
            key,
            channel: "text" as const,
            toAddress: "+13035550123",
            fromAddress: "+17205550100",
          },
          ...{ subject: null, body: "Hello", linkJson: null, headersJson: null, attachmentsJson: null },
          ...{ leadId, personId: null, purpose: "reply", state: "sent" as const, attempts: 0 },
          ...{ nextAt: 0, createdAt: 0, sentAt: 1, error: null },
        })),
      ),
    );
    expect(desk.receipts.ofText({ message_key: "a", state: "delivered" })).toBe(true);
    expect(desk.receipts.ofText({ message_key: "a", state: "failed", because: "Late." })).toBe(true);
    expect(desk.receipts.ofText({ message_key: "b", state: "failed", because: "No such phone." })).toBe(true);
    expect(desk.receipts.ofText({ message_key: "nobody’s", state: "failed" })).toBe(false);
    const byId = new Map(desk.reader.messages(leadId).map((m) => [m.id, m]));
    expect(byId.get("a")).toMatchObject({ state: "delivered", error: null });
    expect(byId.get("b")).toMatchObject({ state: "dead", error: "No such phone" });
    expect(kinds(leadId).filter((k) => k === "undelivered")).toHaveLength(1);
  });
  it("that a gateway refuses for good is not tried again", async () => {
    const refusing = await testDesk({
      channels: {
        email: idle,
        text: {
          deliver: () => Promise.reject(new Refused("no phone has this number")),
          close: async () => {},
        },
        chat: idle,
      },
    });
    closing.push(() => refusing.close());
    refusing.outbox.start();
    refusing.sql.transaction(() =>
      refusing.queueNotice({
        ...{ channel: "text", key: "k", to: "+13035550123", personId: "p_luc" },
        ...{ subject: null, body: "Hello", purpose: "trial" },
      }),
    );
    refusing.outbox.kick();
    await refusing.outbox.drained();
    const row = refusing.sql.get(refusing.sql.q.selectFrom("outbox").selectAll().where("key", "=", "k"));
    expect(row).toMatchObject({ state: "dead", error: "no phone has this number", attempts: 0 });
    expect(refusing.outbox.outages()).toEqual([]);
  });
});
