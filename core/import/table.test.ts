import fc from "fast-check";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { decodeTable, encodingOf, headerKey, headersOf, peekTable, rowFields, writeTable } from "./table.ts";

const utf16 = (text: string, big = false, mark = true) => {
  const little = Buffer.from(`${mark ? "\uFEFF" : ""}${text}`, "utf16le");
  return big ? Buffer.from(little).swap16() : little;
};

describe("encodings", () => {
  const text = 'Nom;Téléphone\n"Lévesque, A.";418 555 0100\n';
  it.each([
    ["utf-8", Buffer.from(text)],
    ["utf-8", Buffer.from(`\uFEFF${text}`)],
    ["utf-16le", utf16(text)],
    ["utf-16be", utf16(text, true)],
    ["utf-16le", utf16(text, false, false)],
    ["windows-1252", Buffer.from(text, "latin1")],
  ])("%s is recognised and read", (encoding, bytes) => {
    expect(encodingOf(bytes)).toBe(encoding);
    expect(decodeTable(bytes)).toBe(text);
  });
});

describe("dialects", () => {
  it.each([",", ";", "\t", "|"])("columns parted by %j", (delimiter) => {
    const cells = [
      ["Name", "Phone"],
      ["Ana", "303 555 0100"],
      ["Luis, the second", 'said "yes"'],
    ];
    const table = peekTable(Papa.unparse(cells, { delimiter }));
    expect(table).toMatchObject({ delimiter, headers: ["Name", "Phone"], rows: cells.slice(1) });
  });
  it("a row over several lines is one row", () =>
    expect(peekTable('a,b\r\n"one\r\ntwo",3\r\n').rows).toEqual([["one\r\ntwo", "3"]]));
  it("headers without a name or named twice can be told apart", () =>
    expect(headersOf(["Phone", "", "Phone"])).toEqual(["Phone", "column 2", "Phone (2)"]));
  it("what stands beyond the headers is not dropped", () =>
    expect(rowFields(["a"], ["1", "2"])).toEqual({ a: "1", "column 2": "2" }));
  it("the same columns in any order and case share a mapping", () =>
    expect(headerKey(["Name", "PHONE"])).toBe(headerKey([" phone", "name"])));
});

describe("tables that are handed out", () => {
  it("are read back as they were", () => {
    const cell = fc.string({ unit: fc.constantFrom(..."ab ,;\"'\n") });
    fc.assert(
      fc.property(fc.array(fc.tuple(cell, cell), { minLength: 1 }), (rows) => {
        const back = Papa.parse<string[]>(writeTable(["x", "y"], rows)).data;
        expect(back.slice(1)).toEqual(rows.map((r) => [...r]));
      }),
    );
  });
  // OWASP, CSV injection: cells beginning with = + - @ or a tab are formulas to a spreadsheet.
  it.each(["=1+1", "+1", "-1", "@SUM(A1)", "\t=1"])("%j is no formula", (cell) =>
    expect(writeTable(["a"], [[cell]])).not.toMatch(/\r\n"?[=+@\t-]/),
  );
});
