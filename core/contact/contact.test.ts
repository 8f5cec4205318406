import fc from "fast-check";
import { parsePhoneNumberFromString } from "libphonenumber-js";
import { describe, expect, it } from "vitest";
import { toEmail } from "./email.ts";
import { firstName, initials, tidyName } from "./name.ts";
import { areaCode, toE164 } from "./phone.ts";
import { readablePhone } from "./readable-phone.ts";

describe("phone numbers", () => {
  it.each([
    ["(303) 555-0123", "+13035550123"],
    ["303.555.0123", "+13035550123"],
    ["+1 303 555 0123", "+13035550123"],
    ["1-303-555-0123", "+13035550123"],
    ["303 555 0123 ext. 4", "+13035550123"],
    ["+44 20 7946 0018", "+442079460018"],
  ])("%s is %s", (written, e164) => expect(toE164(written, "US")).toBe(e164));

  // NANP: area and exchange codes are [2-9]XX. ITU-T E.164: at most 15 digits.
  it.each(["103 555 0123", "303 155 0123", "12", "", "call me", "+1234567890123456"])(
    "%s is none",
    (written) => expect(toE164(written, "US")).toBeNull(),
  );

  it("is idempotent and never longer than E.164 allows, whatever is written", () => {
    fc.assert(
      fc.property(fc.oneof(fc.string(), fc.stringMatching(/^\+?[0-9 ()-]{6,18}$/)), (written) => {
        const e164 = toE164(written, "US");
        if (e164 === null) return;
        expect(e164).toMatch(/^\+\d{2,15}$/);
        expect(toE164(e164, "US")).toBe(e164);
      }),
    );
  });
  it("the direct way and the library agree on every number of the plan", () => {
    const digit = (from: number) => fc.integer({ min: from, max: 9 }).map(String);
    const number = fc
      .tuple(digit(2), digit(0), digit(0), digit(2), ...Array.from({ length: 6 }, () => digit(0)))
      .map((d) => d.join(""));
    const dress = fc.constantFrom(
      (n: string) => n,
      (n: string) => `(${n.slice(0, 3)}) ${n.slice(3, 6)}-${n.slice(6)}`,
      (n: string) => `1 ${n}`,
      (n: string) => `+1.${n}`,
    );
    fc.assert(
      fc.property(
        number,
        dress,
        (n, dressed) => toE164(dressed(n), "US") === (parsePhoneNumberFromString(n, "US")?.number ?? null),
      ),
    );
  });
  it("reads well", () => expect(readablePhone("+13035550123")).toBe("(303) 555-0123"));
  it("knows the area code of the plan only", () => {
    expect(areaCode("+13035550123")).toBe("303");
    expect(areaCode("+442079460018")).toBeNull();
  });
});

describe("mail addresses", () => {
  it.each([
    [" Ana.Ruiz@Example.COM ", "ana.ruiz@example.com"],
    ["Ana Ruiz <ana@example.org>", "ana@example.org"],
    ["info@sauna-hütte.example", "info@xn--sauna-htte-geb.example"],
    ["o'hara+spa@mail.inn.example", "o'hara+spa@mail.inn.example"],
  ])("%s is %s", (written, canonical) => expect(toEmail(written)).toBe(canonical));

  it.each([
    "",
    "ana",
    "@example.com",
    "ana@",
    "ana@localhost",
    "a b@example.com",
    "ana@exa mple.com",
    "ana..r@example.com",
    "ana@example.com/x",
  ])("%s is none", (written) => expect(toEmail(written)).toBeNull());
  it("is idempotent", () => {
    fc.assert(
      fc.property(fc.emailAddress(), (a) => toEmail(a) === null || toEmail(toEmail(a)!) === toEmail(a)),
    );
  });
});

describe("names", () => {
  it("greets by the first word", () => {
    expect(firstName("  Ana María Ruiz ")).toBe("Ana");
    expect(firstName(" ")).toBeNull();
  });
  it("makes initials", () => {
    expect(initials("Ana María Ruiz")).toBe("AR");
    expect(initials("élodie")).toBe("É");
    expect(initials(null)).toBe("?");
  });
  it("gives shouted names their capitals and leaves careful ones", () => {
    expect(tidyName("ANNE-MARIE  O'HARA")).toBe("Anne-Marie O'Hara");
    expect(tidyName("Ludwig van der Meer")).toBe("Ludwig van der Meer");
  });
});
