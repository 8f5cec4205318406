import { describe, expect, it } from "vitest";
import { foldQuoted, robotReason } from "./robot.ts";

describe("who wrote it", () => {
  // RFC 3834 §2: answers to machines are not sent.
  it.each<[Record<string, string>, string | null, string, boolean]>([
    [{ "auto-submitted": "auto-replied" }, null, "a@example.com", true],
    [{ "auto-submitted": "auto-generated; type=x" }, null, "a@example.com", true],
    [{ "auto-submitted": "no" }, null, "a@example.com", false],
    [{}, "", "a@example.com", true],
    [{}, "<>", "a@example.com", true],
    [{ precedence: "bulk" }, "a@example.com", "a@example.com", true],
    [{ "list-id": "<x.example>" }, "a@example.com", "a@example.com", true],
    [{}, "x@example.com", "MAILER-DAEMON@example.com", true],
    [{}, "x@example.com", "no-reply+7@example.com", true],
    [{}, "x@example.com", "noreen@example.com", false],
  ])("%j from %s, %s: a machine is %s", (headers, path, from, machine) =>
    expect(robotReason(headers, path, from) !== null).toBe(machine),
  );
});

describe("what they wrote, without what they quoted", () => {
  it.each([
    ["Yes.\n\nOn Wed, 4 Mar 2026 at 09:00, Tarnholt wrote:\n> Hi", "Yes.", "On Wed"],
    ["Oui\n\nLe mer. 4 mars 2026 à 09:00, Tarnholt a écrit :\n> Bonjour", "Oui", "Le mer."],
    [
      "Ja\n\nAm Mi., 4. März 2026 um 09:00 Uhr schrieb Jan Müller <jan@example.com>:\n> Hallo",
      "Ja",
      "Am Mi.",
    ],
    ["Yes\n\nOn Wed, 4 Mar 2026 at 09:00,\nTarnholt wrote:\n> Hi", "Yes", "On Wed"],
    ["Yes\n\n----- Original Message -----\nHi", "Yes", "-----"],
    ["Sí\n\nEl mié, 4 mar 2026, Tarnholt escribió:\n> Hola", "Sí", "El mié"],
    ["Ok\n\n-----Original Message-----\nFrom: x", "Ok", "-----Original"],
    ["Ok\n\nFrom: Tarnholt\nSent: Wednesday\nTo: me\nSubject: Hi\n\nHello", "Ok", "From: Tarnholt"],
    ["Sure\r\n> old\r\n> older", "Sure", "> old"],
  ])("%j", (text, body, quoted) => {
    const folded = foldQuoted(text);
    expect(folded.body).toBe(body);
    expect(folded.quoted.startsWith(quoted)).toBe(true);
  });
  it("an answer between quotes stays whole, and so does a mail of nothing but quotes", () => {
    const between = "> How big?\nThree metres.\n> When?\nIn May.";
    expect(foldQuoted(between)).toEqual({ body: between, quoted: "" });
    expect(foldQuoted("> only\n> this").body).toBe("> only\n> this");
    expect(foldQuoted("I wrote: from: nobody\nand more").quoted).toBe("");
    for (const said of ["On Monday he wrote to us about this:", "On wrote:", "Le chat a écrit : oui"])
      expect(foldQuoted(`${said}\nand more`).quoted).toBe("");
  });
});
