import { getDocument } from "pdfjs-dist/legacy/build/pdf.mjs";
import { describe, expect, it } from "vitest";
import { NOBODY } from "../../core/lead/blank.ts";
import type { Estimate } from "../../core/lead/lead.ts";
import { workOut } from "../../core/worksheet/reckon.ts";
import { layout, worksheets } from "../../demo/qualifying.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { printEstimate } from "./print.ts";

/** The words of each page, as pdf.js reads them: which has written none of it. */
async function wordsOf(pdf: Buffer): Promise<string[]> {
  const document = await getDocument({ data: new Uint8Array(pdf), useSystemFonts: false }).promise;
  const pages: string[] = [];
  for (let n = 1; n <= document.numPages; n++) {
    const { items } = await (await document.getPage(n)).getTextContent();
    pages.push(items.map((i) => ("str" in i ? i.str : "")).join(" "));
  }
  return pages;
}

function estimate(more: Partial<Estimate> = {}): Estimate {
  const sheet = worksheets[0]!;
  const reckoned = workOut(sheet, { price: 6800, pieces: 2, miles: 190, discount: 5 }, "USD");
  if (!reckoned.ok) throw new Error("The demo's worksheet can't be worked out.");
  return {
    ...reckoned,
    id: "est_1",
    number: "1042",
    version: 2,
    worksheetId: sheet.id,
    worksheetVersion: 1,
    name: sheet.name,
    taxName: sheet.taxName,
    currency: "USD",
    terms: sheet.terms,
    madeAt: Date.parse("2026-03-04T17:00:00Z"),
    by: "p_mara",
    validUntil: Date.parse("2026-04-04T05:59:59Z"),
    file: null,
    state: "draft",
    sentAt: null,
    answered: null,
    ...more,
  };
}

const lead = {
  ...NOBODY,
  id: "l",
  name: "Zoë Łukaszewicz",
  company: "Auberge du Vieux Quai",
  emails: ["z@quai.example"],
};
const print = (e: Estimate) => printEstimate({ setup: tarnholt, lead, estimate: e, logo: null });

describe("an estimate on paper", () => {
  it("says whom it is for, each line that comes to something, tax and total, and until when it holds", async () => {
    const [page = ""] = await wordsOf(await print(estimate()));
    for (const said of [
      "Tarnholt Bathworks",
      "Estimate 1042, version 2",
      "Auberge du Vieux Quai",
      "Wed 4 Mar 2026",
      "Fri 3 Apr 2026",
      "$13,600",
      "-$680",
      "Delivery and setting up",
      "$725",
      "Sales tax, 4.81 %",
      layout.footer,
    ])
      expect(page).toContain(said);
    // By hand: 13,600 − 680 + 725 is 13,645, and 4.81 % of it 656.3245.
    expect(page).toContain("$14,301.32");
    expect(page).not.toContain("Extras $0");
    // Letters beyond Latin-1 come from another file of the same face.
    expect(page.replace(/ /g, "")).toContain("ZoëŁukaszewicz");
  });

  it("goes on over as many pages as its lines need, each with its number", async () => {
    const lines = Array.from({ length: 90 }, (_, i) => ({
      key: `l${i}`,
      name: `Line ${i}`,
      amount: 100 + i,
      shown: true,
    }));
    const pages = await wordsOf(await print(estimate({ lines })));
    expect(pages.length).toBeGreaterThan(1);
    expect(pages.join(" ")).toContain("Line 89");
    pages.forEach((page, i) => {
      expect(page).toContain(`${i + 1} of ${pages.length}`);
    });
  });

  it("prints whatever anybody is called, and a picture that is none", async () => {
    const odd = { ...lead, name: "李雷 \u0000 \ud800 🛁".repeat(40), company: null };
    const pdf = await printEstimate({
      setup: tarnholt,
      lead: odd,
      estimate: estimate(),
      logo: Buffer.from("no picture"),
    });
    expect(pdf.toString("latin1", 0, 5)).toBe("%PDF-");
  });
});
