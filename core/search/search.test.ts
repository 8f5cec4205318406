import fc from "fast-check";
import damerauLevenshtein from "talisman/metrics/damerau-levenshtein";
import { describe, expect, it } from "vitest";
import { NOBODY } from "../lead/blank.ts";
import { entryOf, type LeadEvent } from "../lead/events.ts";
import type { Lead } from "../lead/lead.ts";
import { readSearch } from "./asked.ts";
import { gapsOf, isNear, NEAR_FROM } from "./near.ts";
import { namedBy, ownText, type Piece, piecesOf } from "./pieces.ts";
import { plain, plainWithPlaces, wordsOf } from "./plain.ts";
import { excerpt, rank } from "./rank.ts";

const NOW = Date.parse("2026-03-04T16:00:00Z");
const DAY = 86_400_000;
const few = fc.array(fc.constantFrom(..."abcé"), { minLength: 1, maxLength: 8 }).map((l) => l.join(""));
const lead = (more: Partial<Lead>): Lead => ({ ...NOBODY, id: "ld_1", lastActivityAt: NOW, ...more });

describe("words one typing error apart", () => {
  it("are those talisman's Damerau–Levenshtein says are one apart or the same", () => {
    fc.assert(
      fc.property(few, few, (a, b) => {
        expect(isNear(a, b)).toBe(damerauLevenshtein(a, b) <= 1);
      }),
      { numRuns: 5_000 },
    );
  });

  it("always share a gap where both are long enough, and so are found by looking up their gaps alone", () => {
    const long = few.filter((w) => [...w].length > NEAR_FROM);
    fc.assert(
      fc.property(long, long, (a, b) => {
        const shared = gapsOf(a).some((gap) => gapsOf(b).includes(gap));
        if (isNear(a, b)) expect(shared).toBe(true);
      }),
      { numRuns: 5_000 },
    );
  });

  it("have as many gaps as letters and themselves at most, and none when they are too short or are codes", () => {
    expect(gapsOf("marsh")).toEqual(["marsh", "arsh", "mrsh", "mash", "marh", "mars"]);
    expect(gapsOf("aaaa")).toEqual(["aaaa", "aaa"]);
    expect(gapsOf("ann")).toEqual([]);
    expect(gapsOf("x".repeat(40))).toEqual([]);
  });
});

describe("plain letters", () => {
  it("have no accents and no capitals, and letters that no accent makes are as people type them", () => {
    expect(plain("Élodie BRÜCKNER-Ødegård Straße Łukasz")).toBe("elodie bruckner-odegard strasse lukasz");
  });
  it("know where in the text each of them stood", () => {
    fc.assert(
      fc.property(fc.string({ unit: "grapheme", maxLength: 20 }), (text) => {
        const { plain: made, places: moved } = plainWithPlaces(text);
        const places = moved ?? Array.from({ length: text.length + 1 }, (_, i) => i);
        expect(places).toHaveLength(made.length + 1);
        expect(places.at(-1)).toBe(text.length);
        for (let i = 1; i < places.length; i++) expect(places[i]!).toBeGreaterThanOrEqual(places[i - 1]!);
      }),
    );
    const { plain: made, places } = plainWithPlaces("Groß Élan");
    expect("Groß Élan".slice(places![made.indexOf("elan")]!)).toBe("Élan");
  });
  it("are parted into words at whatever is no letter or digit", () => {
    expect(wordsOf("o'brien-smith 2nd, inc.")).toEqual(["o", "brien", "smith", "2nd", "inc"]);
  });
});

describe("what is looked for", () => {
  it.each([
    ["(303) 555-0172", [{ text: "3035550172", digits: true }]],
    ["+49 30 1234567", [{ text: "49301234567", digits: true }]],
    ["0303 555 0172", [{ text: "3035550172", digits: true }]],
    [
      "555-0172 Whitcombe",
      [
        { text: "5550172", digits: true },
        { text: "whitcombe", digits: false },
      ],
    ],
    [
      "6 ft",
      [
        { text: "6", digits: false },
        { text: "ft", digits: false },
      ],
    ],
    ["“Élodie”, ", [{ text: "elodie", digits: false }]],
    ["ana@example.com", [{ text: "ana@example.com", digits: false }]],
    ["  -- ", []],
  ])("in “%s”", (typed, terms) => {
    expect(readSearch(typed).terms).toEqual(terms);
  });
  it("is narrowed by from: and with:", () => {
    expect(readSearch("from:Ad with:Mara sauna")).toEqual({
      terms: [{ text: "sauna", digits: false }],
      from: ["ad"],
      with: ["mara"],
    });
  });
  it("never throws and is bounded, whatever is typed", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary", maxLength: 3_000 }), (typed) => {
        expect(readSearch(typed).terms.length).toBeLessThanOrEqual(8);
      }),
    );
  });
});

it("what is searched of messages is what people wrote, with the names of files, and not what went out on its own", () => {
  const wrote = (kind: string, data: object) => {
    const event = { kind, data } as LeadEvent;
    return entryOf(event).wrote?.(event.data) ?? null;
  };
  const mail = {
    channel: "email",
    subject: "Deck",
    body: "As promised",
    attachments: [{ name: "plan 7.pdf" }],
  };
  expect(wrote("message-in", mail)).toBe("Deck\nAs promised\nplan 7.pdf");
  expect(wrote("message-out", mail)).toBe("Deck\nAs promised\nplan 7.pdf");
  expect(wrote("message-out", { ...mail, auto: true })).toBeNull();
  expect(wrote("message-in", { channel: "text", subject: null, body: "Yes" })).toBe("Yes");
  expect(wrote("taken", { personId: "p_mara" })).toBeNull();
});

describe("what is found", () => {
  const points = (typed: string, more: Partial<Lead>, said: readonly Piece[] = []) => {
    const them = lead(more);
    return rank(readSearch(typed).terms, them, [...piecesOf(them), ...said], NOW)?.points ?? null;
  };
  const note: Piece = { about: "note", text: "Wants snow load papers for Whitcombe’s deck.", at: NOW };

  it("counts most where it is a whole name, then as its beginning, within it, mistyped, and in a note", () => {
    const order = [
      points("marsh", { name: "Cleo Marsh" }),
      points("marsh", { name: "Cleo Marshall" }),
      points("marsh", { name: "Cleo Delmarshe" }),
      points("mrash", { name: "Cleo Marsh" }),
      points("whitcombe", { name: "Cleo" }, [note]),
    ];
    expect(order.every((p) => p !== null)).toBe(true);
    expect(order).toEqual([...order].sort((a, b) => b! - a!));
  });

  it("is above what is closed or long ago, being as good", () => {
    const open = points("marsh", { name: "Cleo Marsh" })!;
    expect(points("marsh", { name: "Cleo Marsh", lastActivityAt: NOW - 90 * DAY })!).toBeLessThan(open);
    expect(
      points("marsh", { name: "Cleo Marsh", closed: { reason: "x", at: NOW } as Lead["closed"] })!,
    ).toBeLessThan(open);
  });

  it("has all that was typed, in any order and any case, and nothing otherwise", () => {
    const cleo = { name: "Cleo Marsh", phones: ["+13035550172"] };
    for (const typed of ["marsh CLEO", "cleo 0172", "(303) 555 marsh", "cleo marhs"])
      expect(points(typed, cleo)).not.toBeNull();
    for (const typed of ["cleo lind", "0173", "cleo marsh 999", "cl marhsx"])
      expect(points(typed, cleo)).toBeNull();
  });

  it("is shown in its place: a number as it is read, a long text around what was found", () => {
    const cleo = lead({ name: "Cleo Marsh", phones: ["+13035550172"] });
    const number = rank(readSearch("5550172").terms, cleo, piecesOf(cleo), NOW)!;
    const shown = excerpt(number.found);
    expect(shown.marks.map(([a, b]) => shown.text.slice(a, b))).toEqual(["555-0172"]);
    const text = `${"before ".repeat(40)}the Snöw load${" after".repeat(40)}`;
    const long = rank(readSearch("snow load").terms, cleo, [{ about: "said", text, at: 1 }], NOW)!;
    const around = excerpt(long.found);
    expect(around.text.length).toBeLessThan(120);
    expect(around.marks.map(([a, b]) => around.text.slice(a, b))).toEqual(["Snöw", "load"]);
  });

  it("of two words, one the name and one in a note, shows the note", () => {
    const them = lead({ name: "Cleo Marsh" });
    const found = rank(readSearch("cleo snow").terms, them, [...piecesOf(them), note], NOW)!.found;
    expect(found.piece.about).toBe("note");
  });

  it("is all that is known of a lead: numbers as digits, the rest in plain letters", () => {
    const them = lead({
      name: "Élodie Roux",
      company: "Cedar Inn",
      phones: ["+13035550172"],
      emails: ["E.Roux@Example.com"],
      facts: { ...NOBODY.facts, own: { power: "240 V", sizes: ["Big One"] }, address: "7 Elm St" },
    });
    for (const text of [
      "elodie roux",
      "cedar inn",
      "13035550172",
      "e.roux@example.com",
      "240 v",
      "big one",
      "7 elm st",
    ])
      expect(ownText(them)).toContain(text);
    expect(namedBy(them)).toEqual(expect.arrayContaining(["elodie", "roux", "cedar", "inn", "elm"]));
  });
});
