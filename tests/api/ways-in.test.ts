import { request } from "node:http";
import fc from "fast-check";
import nodemailer from "nodemailer";
import { Webhook } from "standardwebhooks";
import { describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";

/** Every way in, from outside: what arrives becomes a lead, or waits with a reason; nothing is lost or doubled. */

const { server, api } = rehearsal();

let n = 0;
const phone = () => `+1303555${String(1000 + ++n).slice(-4)}`;
const lead = async (id: string) => (await api.get(`/leads/${id}`)).body;
const events = async (id: string) =>
  (await api.get(`/leads/${id}/events?limit=200`)).body.items as {
    kind: string;
    summary: string;
    data: Record<string, unknown>;
  }[];
interface Held {
  readonly id: string;
  readonly sourceId: string;
  readonly reason: string;
}
/** All of it, however many pages: what is thrown at the door by chance comes by the hundred. */
const quarantine = async () => {
  const all: Held[] = [];
  for (let next: string | null = ""; next !== null; ) {
    const page = (await api.get(`/quarantine?limit=200${next && `&cursor=${next}`}`)).body as {
      items: Held[];
      next: string | null;
    };
    all.push(...page.items);
    next = page.next;
  }
  return all;
};
const outside = async (channel: string, to: string) =>
  (
    (await api.get(`/rehearsal/outside?channel=${channel}`)).body.items as {
      to: string;
      headers?: Record<string, string>;
      body: string;
    }[]
  ).filter((m) => m.to === to);
const settled = () => api.post("/rehearsal/clock", { advance: "PT1S" });

const ADF = (tel: string, more = "") => `<?xml version="1.0"?><?adf version="1.0"?>
<adf><prospect><id sequence="1" source="Cedar Partners">p-${tel}</id><requestdate>2026-03-04T09:12:00-07:00</requestdate>
<vehicle interest="buy"><make>Tarnholt</make><model>Cabin sauna</model></vehicle>
<customer><contact><name part="first">Noemi</name><name part="last">Vanderberg</name>
<email>noemi@example.org</email><phone type="cellphone">${tel}</phone>
<address><street line="1">12 Larch Way</street><city>Bozeman</city><regioncode>MT</regioncode><postalcode>59715</postalcode></address></contact>
<comments>Wants the dealer &amp; partner price.${more}</comments></customer>
<vendor><vendorname>Tarnholt Bathworks</vendorname></vendor></prospect></adf>`;

describe("payloads over HTTP", () => {
  it.each<[string, string, (tel: string) => string]>([
    ["JSON", "application/json", (tel) => JSON.stringify({ name: "Jay Son", phone: tel })],
    [
      "a form",
      "application/x-www-form-urlencoded",
      (tel) => new URLSearchParams({ name: "Fay Form", phone: tel }).toString(),
    ],
    [
      "several parts",
      "multipart/form-data; boundary=XX",
      (tel) =>
        `--XX\r\ncontent-disposition: form-data; name="name"\r\n\r\nMay Part\r\n--XX\r\ncontent-disposition: form-data; name="phone"\r\n\r\n${tel}\r\n--XX--\r\n`,
    ],
    ["ADF", "application/xml", (tel) => ADF(tel)],
    [
      "a contact card",
      "text/vcard",
      (tel) =>
        `BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Vic Card\r\nTEL;TYPE=cell;VALUE=uri:tel:${tel}\r\nEND:VCARD\r\n`,
    ],
  ])("%s becomes a lead, and the original can be had byte for byte", async (_what, type, make) => {
    const tel = phone();
    const body = make(tel);
    const answer = await api.post("/intake/partners", body, { "content-type": type });
    expect(answer).toMatchObject({ status: 202, body: { matched: "new", quarantined: false } });
    expect(await lead(answer.body.leadId)).toMatchObject({
      phones: [tel],
      sourceId: "src_partner",
      tags: ["partner"],
    });
    const original = await fetch(`${server().origin}/api/v1/inquiries/${answer.body.inquiryId}/original`);
    expect(await original.text()).toBe(body);
    expect(original.headers.get("content-disposition")).toContain("attachment");
  });

  it("ADF is read whole, with entities of its own left alone", async () => {
    const tel = phone();
    const nasty = ADF(tel)
      .replace("<adf>", '<!DOCTYPE adf [<!ENTITY x SYSTEM "file:///etc/passwd">]><adf>')
      .replace("price.", "price. &x;");
    const { leadId } = (await api.post("/intake/partners", nasty, { "content-type": "text/xml" })).body;
    expect(await lead(leadId)).toMatchObject({
      name: "Noemi Vanderberg",
      emails: ["noemi@example.org"],
      facts: {
        product: "cabin",
        postalCode: "59715",
        kinds: { [tel]: "mobile" },
        address: "12 Larch Way, Bozeman, MT",
      },
    });
    expect((await lead(leadId)).facts.message).toContain("Wants the dealer & partner price. &x;");
  });

  it("a wrong signature gets 401 and keeps nothing", async () => {
    const before = (await quarantine()).length;
    const body = JSON.stringify({ submission_id: "x1", answers: [] });
    const forged = new Webhook(`whsec_${Buffer.alloc(24, 1).toString("base64")}`).sign(
      "x1",
      new Date(),
      body,
    );
    const headers = {
      "content-type": "application/json",
      "webhook-id": "x1",
      "webhook-timestamp": String(Math.floor(Date.now() / 1000)),
      "webhook-signature": forged,
    };
    expect((await api.post("/intake/ad-barrel", body, headers)).status).toBe(401);
    expect(await quarantine()).toHaveLength(before);
    const { health } = (await api.get("/sources/ad-barrel")).body;
    expect(health).toMatchObject({ unsigned: 1, total: 0 });
  });

  it("garbage waits with a reason, and is replayed into a lead once the mapping is mended; nothing is doubled", async () => {
    const tel = phone();
    const made = (await api.post("/sources", { name: "Spring fair form", channel: "website" })).body;
    const { mapping } = (await api.get(`/sources/${made.id}`)).body;
    expect((await api.post(`/sources/${made.id}`, { state: "live" })).status).toBe(200);
    const body = { wie: "Ana", anruf_unter: tel, submission_id: "fair-1" };
    const sent = await api.post(`/intake/${made.key}`, body);
    expect(sent.body).toMatchObject({ quarantined: true, leadId: null });
    const again = await api.post(`/intake/${made.key}`, body);
    expect(again.body).toEqual(sent.body);
    const held = (await quarantine()).find((q) => q.id === sent.body.inquiryId)!;
    expect(held.reason).toContain("No field carries a phone number or mail address");
    expect((await api.post(`/quarantine/${held.id}/replay`)).body).toMatchObject({ quarantined: true });
    const mended = { ...mapping, fields: { anruf_unter: { to: "phone" }, wie: { to: "name" } } };
    expect((await api.post(`/sources/${made.id}`, { mapping: mended })).body.mapping.version).toBe(2);
    expect((await api.post(`/quarantine/replay?sourceId=${made.id}`)).body).toEqual({
      tried: 1,
      understood: 1,
    });
    expect((await api.post(`/quarantine/${held.id}/replay`)).status).toBe(404);
    const after = (await api.post(`/intake/${made.key}`, body)).body;
    expect(after).toMatchObject({ inquiryId: held.id, quarantined: false });
    expect(await lead(after.leadId)).toMatchObject({ name: "Ana", phones: [tel], inquiries: 1 });
    expect((await api.get(`/sources/${made.id}`)).body.versions).toHaveLength(2);
  });

  it("the same bytes within five minutes are one inquiry, later another", async () => {
    const body = JSON.stringify({ name: "Twice Sent", phone: phone() });
    const send = () => api.post("/intake/partners", body, { "content-type": "application/json" });
    const first = (await send()).body;
    expect((await send()).body).toEqual(first);
    await api.post("/rehearsal/clock", { advance: "PT6M" });
    expect((await send()).body).toMatchObject({ leadId: first.leadId, matched: "sure" });
    expect((await lead(first.leadId)).inquiries).toBe(2);
  });

  it("a payload over 1 MB is refused and a paused source keeps what comes", async () => {
    expect(
      (await api.post("/intake/partners", "x".repeat(1_100_000), { "content-type": "text/plain" })).status,
    ).toBe(413);
    await api.post("/sources/partners", { state: "paused" });
    const held = (await api.post("/intake/partners", { phone: phone() })).body;
    expect(held.quarantined).toBe(true);
    expect((await quarantine()).find((q) => q.id === held.inquiryId)!.reason).toContain("is paused");
    await api.post("/sources/partners", { state: "live" });
    expect((await api.post(`/quarantine/${held.inquiryId}/replay`)).body.quarantined).toBe(false);
  });

  const type = fc.constantFrom(
    "application/json",
    "application/x-www-form-urlencoded",
    "multipart/form-data; boundary=x",
    "multipart/form-data",
    "application/xml",
    "text/vcard",
    "message/rfc822",
    "text/plain; charset=utf-16",
    "image/png",
    "",
  );
  const start = fc.constantFrom(
    "",
    "{",
    '{"answers":[',
    "<adf><prospect>",
    "BEGIN:VCARD\n",
    "--x\r\n",
    "From: a\r\n\r\n",
    "%",
  );
  const bytes = fc.uint8Array({ maxLength: 300 });
  /** Send bytes as they are, by a path as it is. */
  const post = (path: string, headers: Record<string, string>, body: Buffer) =>
    new Promise<{ status: number; body: string }>((resolve, reject) => {
      const sent = request(`${server().origin}${path}`, { method: "POST", headers }, (answer) => {
        const chunks: Buffer[] = [];
        answer.on("data", (c: Buffer) => chunks.push(c));
        answer.on("end", () =>
          resolve({ status: answer.statusCode!, body: Buffer.concat(chunks).toString() }),
        );
      });
      sent.on("error", reject);
      sent.end(body);
    });
  /** What the desk has kept of all that came: its leads and its quarantine. */
  const stored = async () => {
    const [leads, waiting] = await Promise.all([
      api.get("/leads?limit=200"),
      api.get("/quarantine?limit=200"),
    ]);
    const ids = (items: { id: string }[]) => items.map((i) => i.id);
    return [ids(leads.body.items), ids(waiting.body.items)];
  };

  it("any bytes of any kind to any source yield a stored original or a refusal, never a fault", async () => {
    const key = fc.constantFrom(
      "plan-your-sauna",
      "partners",
      "text-line",
      "hello-mailbox",
      "showroom-line",
      "walk-in",
      "no-such",
      "%E0%A4%A",
    );
    await fc.assert(
      fc.asyncProperty(key, type, start, bytes, async (source, contentType, begin, rest) => {
        const body = Buffer.concat([Buffer.from(begin), rest]);
        const before = await stored();
        const answer = await post(`/api/v1/intake/${source}`, { "content-type": contentType }, body);
        expect(answer.status).toBeLessThan(500);
        if (answer.status >= 300) return void expect(await stored()).toEqual(before);
        const { inquiryId } = JSON.parse(answer.body);
        const original = await fetch(`${server().origin}/api/v1/inquiries/${inquiryId}/original`);
        expect(Buffer.from(await original.arrayBuffer()).equals(body)).toBe(true);
      }),
      { numRuns: 250 },
    );
  });

  it("any bytes to a signed source are stored as they came when they are signed, and not at all when they are not", async () => {
    const { items } = (await api.get("/sources")).body;
    const { key, signingSecret } = items.find((s: { signingSecret?: string }) => s.signingSecret);
    let n = 0;
    await fc.assert(
      fc.asyncProperty(
        fc.string({ maxLength: 200, unit: "grapheme" }),
        fc.boolean(),
        async (said, isSigned) => {
          const before = await stored();
          const at = new Date();
          const id = `any_${n++}`;
          const signature = new Webhook(signingSecret).sign(id, at, isSigned ? said : `${said}.`);
          const headers = {
            "content-type": "application/json",
            "webhook-id": id,
            "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
            "webhook-signature": signature,
          };
          const answer = await post(`/api/v1/intake/${key}`, headers, Buffer.from(said));
          if (!isSigned) {
            expect(answer.status).toBe(401);
            return void expect(await stored()).toEqual(before);
          }
          expect(answer.status).toBe(202);
          const { inquiryId } = JSON.parse(answer.body);
          const original = await fetch(`${server().origin}/api/v1/inquiries/${inquiryId}/original`);
          expect(await original.text()).toBe(said);
        },
      ),
      { numRuns: 80 },
    );
  });

  it("any bytes to any other door are answered without a fault, and what is refused leaves nothing behind", async () => {
    const door = fc.constantFrom(
      "/api/v1/carrier/calls",
      "/api/v1/site/views",
      "/f/plan-your-sauna",
      "/f/none",
      "/u/none",
      "/t/none",
      "/m/none",
      "/b/none",
      "/l/none",
      "/join/none",
      "/confirm/none",
      "/api/auth/sign-in/email",
    );
    await fc.assert(
      fc.asyncProperty(door, type, start, bytes, async (path, contentType, begin, rest) => {
        const before = await stored();
        const answer = await post(
          path,
          { "content-type": contentType },
          Buffer.concat([Buffer.from(begin), rest]),
        );
        expect([path, answer.status < 500]).toEqual([path, true]);
        if (answer.status >= 400) expect(await stored()).toEqual(before);
      }),
      { numRuns: 250 },
    );
  });
});

describe("mail over SMTP", () => {
  const hello = "hello@tarnholt.example";
  const transport = () =>
    nodemailer.createTransport({ host: "127.0.0.1", port: server().mailPort, ignoreTLS: true });

  it("a mail with an attachment is an inquiry; an answer by In-Reply-To joins its thread from another address; an absence note gets no answer", async () => {
    const mail = transport();
    await mail.sendMail({
      from: '"Odile Märzhäuser" <odile@example.com>',
      to: hello,
      subject: "Eine Frage über Größe",
      text: "Would a cabin fit 3 by 4 metres?",
      html: "<p>Would a cabin fit 3 by 4 metres?</p><script>alert(1)</script><img src='https://spy.example/x.gif'>",
      attachments: [
        { filename: "../plan.pdf", contentType: "application/pdf", content: "%PDF-1.7 not really" },
      ],
    });
    const [found] = (await api.get("/leads?q=odile@example.com")).body.items;
    expect(found).toMatchObject({ name: "Odile Märzhäuser", emails: ["odile@example.com"], inquiries: 1 });
    expect(found.facts.message).toContain("Eine Frage über Größe");
    const came = (await events(found.id)).find((e) => e.kind === "message-in")!;
    expect(came.data.html).toBe("<p>Would a cabin fit 3 by 4 metres?</p>");
    const [file] = came.data.attachments as { fileId: string; name: string; type: string }[];
    expect(file).toMatchObject({ name: "plan.pdf", type: "application/pdf" });
    const handed = await fetch(`${server().origin}/api/v1/files/${file!.fileId}?name=${file!.name}`);
    expect(handed.headers.get("content-disposition")).toContain("attachment");
    expect(handed.headers.get("content-type")).toBe("application/octet-stream");
    expect(await handed.text()).toContain("not really");

    await settled();
    const [reply] = await outside("email", "odile@example.com");
    expect(reply!.headers).toMatchObject({ "auto-submitted": "auto-replied" });
    const answer = {
      from: "odile.private@example.org",
      to: hello,
      subject: "Re: something else",
      text: "Yes please.\n\nOn Wed, 4 Mar 2026 Tarnholt wrote:\n> Hello",
    };
    await mail.sendMail({ ...answer, inReplyTo: reply!.headers!["message-id"] });
    expect(await lead(found.id)).toMatchObject({ inquiries: 1, replyWaiting: expect.any(String) });
    const thread = (await events(found.id)).filter((e) => e.kind === "message-in");
    expect(thread.at(-1)!.data).toMatchObject({
      body: "Yes please.",
      quoted: expect.stringContaining("> Hello"),
    });

    await mail.sendMail({
      from: "odile@example.com",
      to: hello,
      subject: "Away",
      text: "I am away until Monday.",
      headers: { "Auto-Submitted": "auto-replied" },
      inReplyTo: reply!.headers!["message-id"],
    });
    await settled();
    expect((await events(found.id)).at(-1)).toMatchObject({
      kind: "message-in",
      data: { robot: "an automatic answer" },
    });
    expect(await outside("email", "odile@example.com")).toHaveLength(1);
    mail.close();
  });

  it("a machine nobody knows makes no lead and gets no answer; it can be insisted on", async () => {
    const mail = transport();
    await mail.sendMail({
      from: "news@shop.example",
      to: hello,
      subject: "Sale",
      text: "Buy",
      headers: { "List-Id": "<news.shop.example>" },
    });
    const held = (await quarantine()).find((q) => q.reason.includes("mail to a list"))!;
    expect(held.sourceId).toBe("src_hello");
    expect(await outside("email", "news@shop.example")).toHaveLength(0);
    expect((await api.post(`/quarantine/${held.id}/replay`)).body.quarantined).toBe(true);
    expect((await api.post(`/quarantine/${held.id}/replay?insisted=true`)).body.quarantined).toBe(false);
    mail.close();
  });

  it("an ADF mail is the lead it describes, not whoever sent it; sent twice it is one", async () => {
    const mail = transport();
    const tel = phone();
    const message = {
      from: "desk@partner.example",
      to: hello,
      subject: "ADF",
      text: ADF(tel),
      messageId: `<${tel}@partner.example>`,
    };
    await mail.sendMail(message);
    await mail.sendMail(message);
    const [found] = (await api.get(`/leads?q=${encodeURIComponent(tel)}`)).body.items;
    expect(found).toMatchObject({ name: "Noemi Vanderberg", facts: { product: "cabin" } });
    expect(
      (await events(found.id)).filter(
        (e) => e.kind === "inquiry" && (e.data.facts as { phones: string[] }).phones.includes(tel),
      ),
    ).toHaveLength(1);
    mail.close();
  });

  it("refuses an address that is none of ours, and more than 25 MB", async () => {
    const mail = transport();
    await expect(
      mail.sendMail({ from: "a@example.com", to: "nobody@tarnholt.example", text: "x" }),
    ).rejects.toThrow(/no address of this desk/);
    await expect(
      mail.sendMail({ from: "a@example.com", to: hello, text: "y".repeat(27 * 1_048_576) }),
    ).rejects.toThrow();
    mail.close();
  });
});

describe("calls", () => {
  it("a voicemail makes a lead with a call-back on top and the recording kept; a try clears it", async () => {
    const tel = phone();
    const { leadId } = (
      await api.post("/rehearsal/call", { from: tel, to: "+17205550100", result: "voicemail", seconds: 7 })
    ).body;
    expect(await lead(leadId)).toMatchObject({
      callBack: expect.any(String),
      nextStep: { note: "Call back" },
      bell: { state: "waiting" },
    });
    const queue = (await api.get("/queue?limit=100")).body;
    expect(queue.bands[0].items[0].callBack).not.toBeNull();
    const call = (await events(leadId)).find((e) => e.kind === "called-in")!;
    const recording = call.data.recording as { fileId: string };
    const heard = await fetch(`${server().origin}/api/v1/files/${recording.fileId}`, {
      headers: { range: "bytes=0-43" },
    });
    expect(heard.status).toBe(206);
    expect(heard.headers.get("content-type")).toBe("audio/wav");
    expect(Buffer.from(await heard.arrayBuffer()).toString("latin1", 0, 4)).toBe("RIFF");
    await api.post(`/leads/${leadId}/tries`, { personId: "p_mara", channel: "call", outcome: "reached" });
    expect(await lead(leadId)).toMatchObject({ callBack: null, bell: { state: "answered" } });
  });
  it("a call answered at the desk answers the bell; a salesperson who picked it up has it", async () => {
    const { leadId } = (
      await api.post("/rehearsal/call", {
        from: phone(),
        to: "+17205550101",
        result: "answered",
        seconds: 65,
      })
    ).body;
    expect(await lead(leadId)).toMatchObject({
      bell: { state: "answered" },
      ownerId: null,
      handOff: { state: "offered" },
      tries: 0,
    });
    const mara = { cookie: "kb_me=p_mara" };
    const call = { from: phone(), to: "+17205550101", result: "answered", seconds: 65 };
    const hers = (await api.post("/rehearsal/call", call, mara)).body.leadId;
    expect(await lead(hers)).toMatchObject({ bell: { state: "answered" }, ownerId: "p_mara", tries: 0 });
  });
  it("a report that is not signed, or of a line that is none of ours, is refused", async () => {
    expect(
      (await api.post("/carrier/calls", { call_id: "c", state: "missed", from: phone(), to: "+17205550100" }))
        .status,
    ).toBe(401);
    expect(
      (await api.post("/rehearsal/call", { from: phone(), to: "+13035550000", result: "missed" })).status,
    ).toBe(422);
  });
});

describe("one person, one lead", () => {
  it("likely matches are proposed with reasons, joined by a person, and taken apart again with nothing lost", async () => {
    const [a, b] = [phone(), phone()];
    const one = (
      await api.post("/intake/plan-your-sauna", {
        name: "Catherine Whitfield",
        phone: a,
        postal_code: "80302",
        email: "catherine.whitfield@example.com",
      })
    ).body.leadId;
    const two = (
      await api.post("/intake/plan-your-sauna", {
        name: "Katherine Whitfield",
        phone: b,
        postal_code: "80302",
        message: "Again, from the ad",
      })
    ).body.leadId;
    expect(two).not.toBe(one);
    const { maybe } = (await api.get(`/leads/${two}/sheet`)).body;
    expect(maybe[0]).toMatchObject({ leadId: one, points: expect.any(Number) });
    expect(maybe[0].evidence.map((e: { said: string }) => e.said).join()).toContain("80302");

    expect((await api.post(`/leads/${one}/join`, { with: two })).status).toBe(200);
    expect(await lead(one)).toMatchObject({ inquiries: 2, phones: [a, b], joinedTo: null });
    expect(await lead(two)).toMatchObject({ joinedTo: one, closed: { reason: "Joined to another lead" } });
    // What comes by the other's number is the joined lead's.
    expect(
      (await api.post("/intake/plan-your-sauna", { phone: b, submission_id: `j-${b}` })).body.leadId,
    ).toBe(one);
    expect(
      (await api.get(`/leads/${one}/sheet`)).body.thread.map(
        (t: { data: { facts?: { message: string } } }) => t.data.facts?.message,
      ),
    ).toContain("Again, from the ad");

    expect((await api.post(`/leads/${one}/part`, { from: two })).status).toBe(200);
    expect(await lead(one)).toMatchObject({ phones: [a], name: "Catherine Whitfield" });
    const apart = await lead(two);
    expect(apart).toMatchObject({ joinedTo: null, closed: null, name: "Katherine Whitfield", phones: [b] });
    expect(apart.handOff ?? apart.ownerId).not.toBeNull();
    expect(
      (await api.post("/intake/plan-your-sauna", { phone: b, submission_id: `k-${b}` })).body.leadId,
    ).toBe(two);
    expect((await api.get(`/leads/${two}/sheet`)).body.maybe).toEqual([]);
  });
  it("a shared number alone joins nobody", async () => {
    const desk = phone();
    const first = (await api.post("/intake/plan-your-sauna", { name: "Bo Frontdesk", phone: desk })).body
      .leadId;
    expect((await api.post(`/leads/${first}/shared`, { value: desk, shared: true })).body.shared).toEqual([
      desk,
    ]);
    const second = (await api.post("/intake/plan-your-sauna", { name: "Ingrid Guest", phone: desk })).body;
    expect(second).toMatchObject({ matched: "new" });
    expect(second.leadId).not.toBe(first);
    await api.post(`/leads/${first}/shared`, { value: desk, shared: false });
    expect(
      (
        await api.post("/intake/plan-your-sauna", {
          name: "Bo Frontdesk",
          phone: desk,
          submission_id: `u-${desk}`,
        })
      ).body.leadId,
    ).toBe(first);
  });
});

describe("a test through the real path", () => {
  it("is answered to whoever tests, routed, marked, and can be wiped", async () => {
    const run = (
      await api.post("/sources/ad-plunge/test", {
        fields: { full_name: "Sample Person", phone_number: "3035550199", email: "real@customer.example" },
      })
    ).body;
    expect(run).toMatchObject({ quarantined: false });
    expect(await lead(run.leadId)).toMatchObject({
      test: true,
      emails: ["ines@tarnholt.example"],
      handOff: { state: "offered" },
    });
    await settled();
    expect(await outside("email", "real@customer.example")).toHaveLength(0);
    expect(await outside("email", "ines@tarnholt.example")).toHaveLength(1);
    expect((await api.post(`/leads/${run.leadId}/wipe`)).body).toEqual({ wiped: true });
    expect((await api.get(`/leads/${run.leadId}`)).status).toBe(404);
    const real = (await api.post("/intake/partners", { phone: phone() })).body.leadId;
    expect((await api.post(`/leads/${real}/wipe`)).status).toBe(409);
  });
});

describe("the ad platform", () => {
  it("is connected by its own sign-in; a form chosen by name becomes a draft source; what was missed is fetched once", async () => {
    const begun = (await api.post("/ads/connect")).body.url as string;
    const page = await (await fetch(begun)).text();
    expect(page).toContain("would like to read your lead forms");
    const { searchParams, origin } = new URL(begun);
    const allowed = await fetch(`${origin}/authorize`, {
      method: "POST",
      body: searchParams,
      redirect: "manual",
    });
    const back = new URL(allowed.headers.get("location")!);
    expect(back.pathname).toBe("/setup/ads");
    await fetch(back, { headers: { authorization: "Bearer rehearsal" } });
    const { accounts } = (await api.get("/ads")).body;
    expect(accounts.map((a: { name: string }) => a.name)).toEqual(["Tarnholt Homes", "Tarnholt Trade"]);
    const made = await api.post("/ads/forms", { accountId: "acc_homes", formId: "frm_tub_winter" });
    expect(made).toMatchObject({
      status: 201,
      body: { state: "draft", name: "Ad: Wood-fired tubs, winter" },
    });
    const { key, id } = made.body;
    expect((await api.post(`/sources/${id}`, { state: "live" })).status).toBe(200);
    const tel = phone();
    await api.post("/rehearsal/ad-form", {
      source: key,
      answers: { full_name: "Held Back", phone_number: tel },
      hold: true,
    });
    expect((await api.post(`/sources/${id}/catch-up`)).body).toEqual({ fetched: 1, fresh: 1 });
    expect((await api.post(`/sources/${id}/catch-up`)).body).toEqual({ fetched: 1, fresh: 0 });
    expect((await api.get(`/leads?q=${encodeURIComponent(tel)}`)).body.items).toHaveLength(1);
  });
  it("a changed form is noticed, and the delivery is still taken", async () => {
    await api.post("/rehearsal/ad-question", {
      source: "ad-lodge",
      field: "opening_month",
      label: "When do you open?",
    });
    const tel = phone();
    const { leadId } = (
      await api.post("/rehearsal/ad-form", {
        source: "ad-lodge",
        answers: { full_name: "New Question", phone_number: tel, opening_month: "May" },
      })
    ).body;
    expect((await lead(leadId)).facts.answers).toEqual({ opening_month: "May" });
    await api.post("/sources/ad-lodge/catch-up");
    expect((await api.get("/sources/ad-lodge")).body.health.changed).toEqual({
      added: ["opening_month"],
      gone: [],
    });
    await api.post("/sources/ad-lodge/questions");
    expect((await api.get("/sources/ad-lodge")).body.health.changed).toEqual({ added: [], gone: [] });
  });
});

describe("spreadsheets", () => {
  const upload = async (bytes: Buffer, name = "show.csv") =>
    (
      await fetch(`${server().origin}/api/v1/imports/preview?name=${name}`, {
        method: "POST",
        body: new Uint8Array(bytes),
        headers: { authorization: "Bearer rehearsal" },
      })
    ).json();
  const finished = async (id: string) => {
    for (;;) {
      const { body } = await api.get(`/imports/${id}`);
      if (body.state !== "running") return body;
      await new Promise((resolve) => setImmediate(resolve));
    }
  };

  it("is previewed, checked, loaded, its rejects mended, and taken back whole", async () => {
    const known = phone();
    await api.post("/intake/partners", { name: "Known Before", phone: known });
    const [a, b] = [phone(), phone()];
    const text = `Nom;Téléphone;Courriel;Remarque\r\n"Lévesque, Aurélie";${a};;"deux\nlignes"\r\nKnown Before;${known};;\r\nSans Contact;;;rien\r\nDouble;${b};;\r\nDouble;${b};;\r\n`;
    const preview = await upload(Buffer.from(text, "latin1"));
    expect(preview).toMatchObject({
      encoding: "windows-1252",
      delimiter: ";",
      headers: ["Nom", "Téléphone", "Courriel", "Remarque"],
      remembered: false,
    });
    const fields = {
      Nom: { to: "name" },
      Téléphone: { to: "phone" },
      Courriel: { to: "email" },
      Remarque: { to: "message" },
    };
    const options = {
      fileId: preview.fileId,
      sourceId: "garden-show",
      fields,
      tags: ["spring"],
      route: false,
    };
    const check = (await api.post("/imports/check", options)).body;
    expect(check).toMatchObject({ total: 5, fresh: 2, known: 1, twice: 1, rejected: 1 });
    expect(check.rejectedRows[0]).toMatchObject({
      row: 3,
      reason: expect.stringContaining("No field carries"),
    });
    const { id } = (await api.post("/imports", { ...options, name: "show.csv", total: 5 })).body;
    expect(await finished(id)).toMatchObject({ state: "done", done: 5, made: 2, joined: 2, rejected: 1 });
    const [lev] = (await api.get(`/leads?q=${encodeURIComponent(a)}`)).body.items;
    expect(lev).toMatchObject({
      name: "Aurélie Lévesque",
      tags: ["show", "spring"],
      bell: { state: "none" },
      handOff: null,
      facts: { message: "deux\nlignes" },
    });
    const rejects = await (await fetch(`${server().origin}/api/v1/imports/${id}/rejects.csv`)).text();
    expect(rejects).toContain("Sans Contact");
    expect((await upload(Buffer.from(text, "latin1"))).remembered).toBe(true);
    expect((await api.post(`/imports/${id}/undo`)).body).toEqual({ removed: 2, kept: 2 });
    expect((await api.get(`/leads?q=${encodeURIComponent(a)}`)).body.items).toEqual([]);
  });
  it("can't be taken back once somebody has worked on it", async () => {
    const tel = phone();
    const preview = await upload(Buffer.from(`Name,Phone\nTouched,${tel}\n`));
    const options = {
      fileId: preview.fileId,
      sourceId: "garden-show",
      fields: preview.fields,
      tags: [],
      route: true,
    };
    const { id } = (await api.post("/imports", { ...options, name: "t.csv", total: 1 })).body;
    await finished(id);
    const [found] = (await api.get(`/leads?q=${encodeURIComponent(tel)}`)).body.items;
    expect(found.handOff.state).toBe("offered");
    await api.post(`/leads/${found.id}/tries`, { personId: "p_mara", channel: "call", outcome: "voicemail" });
    expect(await api.post(`/imports/${id}/undo`)).toMatchObject({
      status: 409,
      body: { detail: expect.stringContaining("worked on 1") },
    });
  });
});

describe("the website form", () => {
  it("is handed out across origins, keeps where people came from, and holds back what robots send", async () => {
    const got = await fetch(`${server().origin}/api/v1/forms/plan-your-sauna`);
    expect(got.headers.get("access-control-allow-origin")).toBe("*");
    const form = (await got.json()) as { token: string; fields: { name: string }[] };
    expect(form.fields.map((f) => f.name)).toContain("holding_back");
    const browser = { origin: "https://tarnholt.example" };
    const send = async (more: object) =>
      (
        await api.post(
          "/intake/plan-your-sauna",
          { name: "Robo", email: `r${++n}@example.com`, ...more },
          browser,
        )
      ).body;
    const held = async (id: string) => (await quarantine()).find((q) => q.id === id)?.reason ?? null;
    expect(await held((await send({ kb_website: "http://spam.example" })).inquiryId)).toContain(
      "people don't see",
    );
    expect(await held((await send({ kb_token: form.token })).inquiryId)).toContain("faster than a person");
    expect(await held((await send({ kb_token: "0.forged" })).inquiryId)).toContain("none of ours");
    const fine = await send({
      holding_back: "just looking",
      page: "https://tarnholt.example/a",
      gclid: "g1",
      utm_source: "spring",
    });
    expect(fine.quarantined).toBe(false);
    expect(await lead(fine.leadId)).toMatchObject({
      tags: ["just looking"],
      facts: {
        own: { holding_back: "just looking" },
        answers: { page: "https://tarnholt.example/a", gclid: "g1", utm_source: "spring" },
      },
    });
    let last = null;
    for (let i = 0; i < 14; i++) last = await send({});
    expect(await held(last.inquiryId)).toContain("others within a minute");
  });
});

describe("a source that goes quiet", () => {
  it("is told of once, in chat and to whoever manages, and again only after it has spoken", async () => {
    const speak = async (days: number) => {
      for (let i = 0; i < days * 4; i++) {
        await api.post("/intake/partners", { phone: phone() });
        await api.post("/rehearsal/clock", { advance: "PT6H" });
      }
    };
    const told = async () =>
      (await outside("chat", "#lead-desk")).filter((m) => m.body.includes("Partner referrals has gone quiet"))
        .length;
    await speak(16);
    expect(await told()).toBe(0);
    await api.post("/rehearsal/clock", { advance: "P4D" });
    expect(await told()).toBe(1);
    await api.post("/rehearsal/clock", { advance: "P4D" });
    expect(await told()).toBe(1);
    expect((await api.get("/sources/partners")).body.health).toMatchObject({
      quiet: true,
      knowsRhythm: true,
    });
    await speak(1);
    await api.post("/rehearsal/clock", { advance: "P5D" });
    expect(await told()).toBe(2);
  });
});
