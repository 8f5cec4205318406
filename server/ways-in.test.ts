import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import Papa from "papaparse";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { mapTo } from "../core/policy/mapping.ts";
import { tarnholt } from "../demo/tarnholt.ts";
import { NINE, testDesk } from "../tests/support/desk.ts";
import { cleanName, isShown } from "./files/files.ts";
import { encodingOfFile, readRows } from "./import/read-rows.ts";
import { readCall } from "./intake/call.ts";
import { Guard, HONEYPOT, TOKEN } from "./intake/guard.ts";
import { Links } from "./links.ts";
import { cleanHtml, readMail } from "./mail/read-mail.ts";
import { sourceOfAddress } from "./mail/receiver.ts";
import { verify } from "./verify-desk.ts";

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "kite-bell-ways-"));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const show = tarnholt.sources.find((s) => s.key === "garden-show")!;

describe("the guard of the website forms", () => {
  let now = NINE;
  const guard = () => new Guard("a secret", () => now);
  const judge = (g: Guard, fields: Record<string, string>, address = "1.2.3.4", browser = true) =>
    g.judge("site", fields, address, browser) === null ? "fine" : "held";

  it("lets people through, and companies' own servers without a question", () => {
    const g = guard();
    const token = g.token("site");
    now += 4_000;
    expect(judge(g, { [TOKEN]: token, name: "Ana" })).toBe("fine");
    for (let i = 0; i < 200; i++) expect(judge(g, { name: "Ana" }, "5.6.7.8", false)).toBe("fine");
  });
  it.each<[string, (g: Guard) => Record<string, string>]>([
    ["a filled field nobody sees", () => ({ [HONEYPOT]: "x" })],
    ["a form sent at once", (g) => ({ [TOKEN]: g.token("site") })],
    ["another form's token", (g) => ({ [TOKEN]: g.token("other") })],
    ["a token of nobody's", () => ({ [TOKEN]: "abc.def" })],
  ])("holds back %s", (_what, fields) => {
    const g = guard();
    expect(g.judge("site", fields(g), "1.2.3.4", true)).toContain("Take it in as it is if it is a person’s.");
  });
  it("holds back what comes too fast from one address, refuses nothing, and forgets after a minute", () => {
    const g = guard();
    const verdicts = Array.from({ length: 70 }, () => judge(g, {}));
    expect(verdicts.filter((v) => v === "fine")).toHaveLength(12);
    expect(verdicts.filter((v) => v === "held")).toHaveLength(58);
    expect(judge(g, {}, "4.3.2.1")).toBe("fine");
    now += 61_000;
    expect(judge(g, {})).toBe("fine");
  });
});

describe("mail of strangers", () => {
  // Well-known ways of smuggling script into HTML; none may leave anything that runs or fetches.
  it.each([
    "<script>alert(1)</script>",
    '<img src=x onerror="alert(1)">',
    '<a href="javascript:alert(1)">x</a>',
    '<a href="jAvAsCrIpT&#58;alert(1)">x</a>',
    "<svg onload=alert(1)>",
    '<iframe src="https://evil.example"></iframe>',
    '<div style="background:url(https://spy.example/x)">x</div>',
    "<math><mtext><table><mglyph><style><img src=x onerror=alert(1)>",
    '<form action="https://evil.example"><input name=p></form>',
    '<meta http-equiv="refresh" content="0;url=https://evil.example">',
    '<p onclick="alert(1)">x</p>',
    '<base href="https://evil.example/">',
  ])("%s is made harmless", (html) => {
    expect(cleanHtml(html)).not.toMatch(
      /script|onerror|onload|onclick|style|<img|<iframe|<form|<meta|<base|<svg|evil|spy/i,
    );
  });
  it("keeps what a mail is made of, and opens links elsewhere", () => {
    const html = '<p>Hello <b>you</b>, <a href="https://a.example/x">look</a></p>';
    expect(cleanHtml(html)).toBe(
      '<p>Hello <b>you</b>, <a href="https://a.example/x" rel="noreferrer noopener nofollow" target="_blank">look</a></p>',
    );
  });
  it("is taken apart: encoded words, reply address, answers, an HTML body alone", async () => {
    const raw = [
      "From: =?UTF-8?Q?M=C3=A4rz?= <a@example.com>",
      "Reply-To: b@example.com",
      "Subject: =?ISO-8859-1?B?R3L232U=?=",
      "Message-ID: <m3@example.com>",
      "In-Reply-To: <m2@x.example>",
      "References: <m1@x.example> <m2@x.example>",
      "Content-Type: text/html; charset=utf-8",
      "",
      "<p>How <i>big</i>?</p>",
    ].join("\r\n");
    expect(await readMail(Buffer.from(raw), "a@example.com")).toMatchObject({
      from: "b@example.com",
      fromName: "März",
      subject: "Größe",
      body: "How big?",
      messageId: "<m3@example.com>",
      answers: ["<m2@x.example>", "<m1@x.example>"],
      robot: null,
      document: null,
    });
  });
  it("is never too odd to be read", async () => {
    await fc.assert(
      fc.asyncProperty(fc.string(), fc.string(), async (head, body) => {
        const mail = await readMail(Buffer.from(`From: ${head}\r\n\r\n${body}`), null);
        expect(typeof mail.body).toBe("string");
      }),
      { numRuns: 60 },
    );
  });
  it("finds its source by our address, however it is written", () => {
    expect(sourceOfAddress(tarnholt.sources, "HELLO@Tarnholt.example")?.key).toBe("hello-mailbox");
    expect(sourceOfAddress(tarnholt.sources, "nobody@tarnholt.example")).toBeUndefined();
  });
  it("an answer names its lead by our Message-ID, and by none that was not made here", () => {
    const links = new Links("a secret", "");
    const id = links.mailId("lead_1", "first-reply:1", "tarnholt.example");
    expect(links.mailId("lead_1", "first-reply:1", "tarnholt.example")).toBe(id);
    expect(links.leadOfMail(id)).toBe("lead_1");
    expect(links.leadOfMail(` ${id.slice(1, -1)} `)).toBe("lead_1");
    expect(links.leadOfMail(id.replace("lead_1", "lead_2"))).toBeNull();
    expect(new Links("another", "").leadOfMail(id)).toBeNull();
    fc.assert(fc.property(fc.string(), (text) => links.leadOfMail(text) === null));
  });
});

describe("calls as they are reported", () => {
  const call = { call_id: "c1", phone: "+13035550100", kb_result: "voicemail", kb_seconds: "18" };
  it("are read with what is left out", () =>
    expect(readCall(call)).toEqual({
      callId: "c1",
      from: "+13035550100",
      result: "voicemail",
      seconds: 18,
      personId: null,
      recording: null,
    }));
  it.each([{ ...call, call_id: "" }, { ...call, kb_result: "sung" }, { phone: "+13035550100" }])(
    "%j is none",
    (fields) => expect(readCall(fields as Record<string, string>)).toBeNull(),
  );
  it("a recording that can't be read does not lose the call", () =>
    expect(readCall({ ...call, kb_recording: "{" })).toMatchObject({ recording: null }));
});

describe("names of files", () => {
  it.each([
    ["../../etc/passwd", "passwd"],
    ["C:\\temp\\plan.pdf", "plan.pdf"],
    [".htaccess", "htaccess"],
    ['a"b<c>.txt', "abc.txt"],
    ["", "file"],
  ])("%j is called %s", (name, called) => expect(cleanName(name)).toBe(called));
  it("only sound and pictures are shown in place", () => {
    expect(["audio/wav", "image/png"].every(isShown)).toBe(true);
    expect(["text/html", "image/svg+xml", "application/pdf"].some(isShown)).toBe(false);
  });
});

describe("rows of a file", () => {
  const rowsOf = async (bytes: Buffer, delimiter: string, from = 1) => {
    const path = join(folder, "list.csv");
    writeFileSync(path, bytes);
    const source = { ...show, mapping: mapTo({ name: "name", phone: "phone", note: "message" }) };
    const all = [];
    for await (const batch of readRows(
      {
        path,
        encoding: encodingOfFile(path),
        delimiter,
        source,
        policies: tarnholt.policies,
        erased: null,
        from,
      },
      3,
    ))
      all.push(...batch);
    return all;
  };
  it("are what papaparse reads of the whole, whatever stands in quotes and wherever a piece of the file ends", async () => {
    const cell = fc.string({ unit: fc.constantFrom(...'ab,;"\n é'), maxLength: 8 });
    await fc.assert(
      fc.asyncProperty(
        fc.array(cell, { minLength: 1, maxLength: 12 }),
        fc.constantFrom(",", ";"),
        async (notes, delimiter) => {
          const table = notes.map((note, i) => [`N${i}`, `303 555 ${String(1000 + i)}`, note]);
          const text = Papa.unparse([["name", "phone", "note"], ...table], { delimiter, newline: "\n" });
          const rows = await rowsOf(Buffer.from(text), delimiter);
          expect(rows.map((r) => ("facts" in r ? (r.facts.message ?? "") : r.reason))).toEqual(
            notes.map((n) => n.trim()),
          );
          expect(rows.map((r) => r.row)).toEqual(notes.map((_, i) => i + 1));
        },
      ),
      { numRuns: 60 },
    );
  });
  it("go on from any row, and give a reason where nobody can be reached", async () => {
    const text = `name,phone\n${Array.from({ length: 10 }, (_, i) => `N${i},${i === 7 ? "none" : `303 555 100${i}`}`).join("\n")}`;
    const rows = await rowsOf(Buffer.from(text, "utf16le"), ",", 6);
    expect(rows.map((r) => r.row)).toEqual([6, 7, 8, 9, 10]);
    expect(rows[2]).toMatchObject({
      cells: ["N7", "none"],
      reason: expect.stringContaining("“none” is neither"),
    });
  });
});

describe("a list that is routed", () => {
  const open = () => testDesk({ data: folder });
  const list = (n: number) =>
    Buffer.from(
      `Name,Phone\n${Array.from({ length: n }, (_, i) => `N ${i},303 555 ${String(1000 + (i % 40))}`).join("\n")}\n`,
    );

  it("offers each person in turn, joins who stands there twice, stops with the desk and goes on with it", async () => {
    let desk = await open();
    const preview = desk.imports.preview(list(60), "l.csv");
    if ("problem" in preview) throw new Error(preview.problem);
    const options = { fields: preview.fields, tags: ["spring"], route: true };
    const check = await desk.imports.check(preview.fileId, show, options);
    expect(check).toMatchObject({ total: 60, fresh: 40, twice: 20, known: 0, rejected: 0 });
    const id = desk.imports.start(preview.fileId, "l.csv", show, options, check.total, "p_ines");
    // Closed in the middle: what was worked is on disk, the rest is not begun.
    await desk.close();
    desk = await open();
    desk.imports.resume();
    await desk.imports.settled();
    expect(desk.imports.get(id)).toMatchObject({ state: "done", done: 60, made: 40, joined: 20 });
    const counts = tarnholt.groups[0]!.members.map((m) => desk.loads[m.personId] ?? 0).filter((n) => n > 0);
    expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(6);
    expect(desk.reader.leads({ limit: 1, q: "n 39" }).items[0]).toMatchObject({
      tags: ["show", "spring"],
      bell: { state: "waiting" },
    });
    expect(verify(desk.sql).faults).toEqual([]);
    expect(await desk.imports.undo(id)).toEqual({ removed: 40, kept: 20 });
    expect(desk.reader.leads({ limit: 5 }).items).toEqual([]);
    expect(Object.values(desk.loads).reduce((a, b) => a + b, 0)).toBe(0);
    expect(await desk.imports.undo(id)).toMatchObject({
      problem: expect.stringContaining("taken back already"),
    });
    await desk.close();
  });
  it("a file without rows says so", async () => {
    const desk = await open();
    expect(desk.imports.preview(Buffer.from("Name,Phone\n"), "l.csv")).toMatchObject({
      problem: expect.stringContaining("no rows"),
    });
    expect(await desk.imports.undo("imp_none")).toMatchObject({ problem: "There is no such import." });
    await desk.close();
  });
});
