import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { looksLikeAdf, readAdf, readVcard } from "./documents.ts";

// ADF 1.0: requestdate, vehicle, customer and vendor are required, in this order (from memory).
const adf = (contact: string, more = "") =>
  `<?ADF VERSION="1.0"?><?xml version="1.0"?><adf><prospect status="new"><requestdate>2026-03-04T09:00:00-07:00</requestdate><vehicle><year>2026</year><make>Tarnholt</make><model>Barrel</model></vehicle><customer><contact>${contact}</contact>${more}</customer><vendor><vendorname>Tarnholt</vendorname></vendor></prospect></adf>`;

describe("ADF", () => {
  it("is read part by part", () => {
    const [read] = readAdf(
      adf(
        '<name part="full" type="business">Larkmoor Lodge</name><name part="first">Ana</name><name part="last">Ruiz</name><email>ana@example.com</email><email>b@example.com</email><phone type="voice" preferredcontact="1">303 555 0100</phone><phone type="cellphone">303 555 0101</phone>',
        "<comments>Two &lt;big&gt; ones &#38; a tub</comments><timeframe><description>May</description></timeframe>",
      ),
    );
    expect(read).toMatchObject({
      ok: true,
      fields: {
        company: "Larkmoor Lodge",
        first_name: "Ana",
        last_name: "Ruiz",
        email: "ana@example.com",
        "email 2": "b@example.com",
        phone: "303 555 0100",
        "mobile 2": "303 555 0101",
        preferred: "call",
        product: "2026 Tarnholt Barrel",
        message: "Two <big> ones & a tub",
        "wanted in": "May",
        vendor: "Tarnholt",
      },
    });
  });
  it("several prospects are several people", () => {
    const one = adf("<name>Ana</name>");
    const two = one.replace(
      "</prospect>",
      "</prospect><prospect><customer><contact><name>Luis</name></contact></customer></prospect>",
    );
    expect(readAdf(two).map((r) => r.ok && r.fields.name)).toEqual(["Ana", "Luis"]);
  });
  it("says what is wrong with a broken one", () => {
    expect(readAdf("<adf></adf>")[0]).toMatchObject({
      ok: false,
      reason: expect.stringContaining("<prospect>"),
    });
    expect(readAdf("<adf><prospect><vehicle/></prospect></adf>")[0]).toMatchObject({
      ok: false,
      reason: expect.stringContaining("nobody to reach"),
    });
  });
  it("follows no entity of the document's own", () => {
    const bomb = `<!DOCTYPE adf [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;&a;">]>${adf("<name>&b;</name>")}`;
    expect(readAdf(bomb)[0]).toMatchObject({ ok: true, fields: { name: "&b;" } });
  });
  it("never throws, whatever looks like one", () => {
    fc.assert(
      fc.property(fc.string(), fc.nat({ max: 300 }), (noise, at) => {
        const whole = adf("<name>Ana</name>");
        const text = whole.slice(0, at) + noise + whole.slice(at);
        expect(readAdf(text).length).toBeGreaterThan(0);
        looksLikeAdf(text);
      }),
    );
  });
});

describe("contact cards", () => {
  it("RFC 6350 and the older 3.0 are read, folded lines and all", () => {
    const card =
      "BEGIN:VCARD\r\nVERSION:3.0\r\nN:Ruiz;Ana;;;\r\nFN:Ana Ruiz\r\nORG:Larkmoor;Kitchen\r\nTEL;TYPE=CELL:303 555 0100\r\nTEL;TYPE=WORK:303 555 0101\r\nEMAIL:ana@exa\r\n mple.com\r\nADR;TYPE=WORK:;;12 Larch Way;Bozeman;MT;59715;USA\r\nNOTE:Two lines\\, one note\r\nEND:VCARD\r\n";
    expect(readVcard(card)).toEqual({
      ok: true,
      fields: {
        name: "Ana Ruiz",
        company: "Larkmoor",
        mobile: "303 555 0100",
        phone: "303 555 0101",
        email: "ana@example.com",
        address: "12 Larch Way, Bozeman, MT",
        postal_code: "59715",
        message: "Two lines, one note",
      },
    });
  });
  it("never throws, whatever looks like one", () => {
    fc.assert(
      fc.property(fc.string(), (noise) => typeof readVcard(`BEGIN:VCARD\n${noise}`).ok === "boolean"),
    );
    expect(readVcard("BEGIN:VCARD").ok).toBe(false);
  });
});
