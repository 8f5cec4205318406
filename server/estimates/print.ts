import PDFDocument from "pdfkit";
import { nameOrNumber } from "../../core/lead/called.ts";
import type { Estimate, Lead } from "../../core/lead/lead.ts";
import { sayMoney } from "../../core/money/money.ts";
import { nameOf, type Setup } from "../../core/policy/setup.ts";
import { localDate, sayDay } from "../../core/time/words.ts";
import { FONT_SETS, type FontSet, fontFile, type Weight } from "../fonts/face.ts";

/** Points from the paper's edge, and colors: ink, second ink, rule. */
const EDGE = 54;
const INK = "#1E2430";
const SECOND = "#565D6B";
const RULE = "#DDD7C9";
const AMOUNTS = 130;

type Pdf = InstanceType<typeof PDFDocument>;
/** Whether a letter is in the smaller of the two sets; what is in neither is printed as its box. */
const isLatin = (letter: string) =>
  /[\u0020-\u00ff\u0131\u0152\u0153\u2000-\u206f\u20ac\u2122\u2212]/.test(letter);

interface Run {
  readonly text: string;
  readonly set: FontSet;
}

/** A text in runs of one font each: names are written in more letters than one file holds. */
function runsOf(text: string): Run[] {
  const runs: { text: string; set: FontSet }[] = [];
  for (const letter of text.normalize("NFC")) {
    const set = isLatin(letter) ? "latin" : "latin-ext";
    const last = runs.at(-1);
    if (last?.set === set) last.text += letter;
    else runs.push({ text: letter, set });
  }
  return runs.length > 0 ? runs : [{ text: "", set: "latin" }];
}

/** Writes on a page with the app's fonts, wrapped within a width. */
class Writer {
  readonly doc: Pdf;
  readonly width: number;

  constructor(doc: Pdf) {
    this.doc = doc;
    this.width = doc.page.width - 2 * EDGE;
    for (const set of FONT_SETS)
      for (const weight of ["400", "700"] as const)
        doc.registerFont(`${set}-${weight}`, fontFile(set, weight));
  }

  text(
    said: string,
    {
      x = EDGE,
      y = this.doc.y,
      width = this.width,
      size = 10,
      weight = "400" as Weight,
      color = INK,
      align = "left" as "left" | "right",
    } = {},
  ): this {
    let top = y;
    for (const line of said.split("\n")) {
      const runs = runsOf(line);
      // Several fonts in a line that ends at the right: set by its measured width, since no paragraph holds them together.
      const only = runs.length === 1;
      const put = only || align === "left" ? x : x + width - this.#widthOf(runs, weight, size);
      runs.forEach(({ text, set }, i) => {
        this.doc.font(`${set}-${weight}`).fontSize(size).fillColor(color);
        const more = {
          width,
          align: only ? align : ("left" as const),
          continued: i < runs.length - 1,
          lineGap: 2,
        };
        if (i === 0) this.doc.text(text, put, top, more);
        else this.doc.text(text, more);
      });
      top = this.doc.y;
    }
    return this;
  }

  #widthOf(runs: readonly Run[], weight: Weight, size: number): number {
    return runs.reduce(
      (sum, { text, set }) => sum + this.doc.font(`${set}-${weight}`).fontSize(size).widthOfString(text),
      0,
    );
  }

  rule(): this {
    const { doc } = this;
    doc
      .moveTo(EDGE, doc.y + 4)
      .lineTo(EDGE + this.width, doc.y + 4)
      .lineWidth(0.7)
      .strokeColor(RULE)
      .stroke();
    doc.y += 12;
    return this;
  }

  /** A line of the table: its name on the left, its amount at the right edge, on the next page where this one is full. */
  line(name: string, amount: string, weight: Weight = "400", size = 10): this {
    const { doc } = this;
    if (doc.y > doc.page.height - EDGE - 60) doc.addPage();
    const { y } = doc;
    this.text(name, { y, width: this.width - AMOUNTS, weight, size });
    const below = doc.y;
    this.text(amount, { x: EDGE + this.width - AMOUNTS, y, width: AMOUNTS, weight, size, align: "right" });
    doc.y = Math.max(below, doc.y) + 3;
    return this;
  }
}

export interface PrintJob {
  readonly setup: Setup;
  readonly lead: Lead;
  readonly estimate: Estimate;
  /** The company's picture, where it is one that can be printed. */
  readonly logo: Buffer | null;
}

/** An estimate as a PDF, on the company's paper. The same estimate always prints the same words. */
export function printEstimate({ setup, lead, estimate, logo }: PrintJob): Promise<Buffer> {
  const { policies } = setup;
  const { company, layout, desk } = policies;
  const doc = new PDFDocument({
    size: layout.paper,
    margin: EDGE,
    bufferPages: true,
    info: {
      Title: `Estimate ${estimate.number}`,
      Author: company.name,
      CreationDate: new Date(estimate.madeAt),
    },
  });
  const parts: Buffer[] = [];
  const done = new Promise<Buffer>((resolve, reject) => {
    doc.on("data", (part: Buffer) => parts.push(part));
    doc.on("end", () => resolve(Buffer.concat(parts)));
    doc.on("error", reject);
  });
  const page = new Writer(doc);
  const day = (at: number) => sayDay(localDate(at, desk.zone), desk.zone, 0);
  head(page, company.name, layout.sender, logo);
  page.text(`Estimate ${estimate.number}${estimate.version > 1 ? `, version ${estimate.version}` : ""}`, {
    size: 18,
    weight: "700",
  });
  page.text(
    `${day(estimate.madeAt)} · holds until ${day(estimate.validUntil)} · by ${nameOf(setup, estimate.by)}`,
    { color: SECOND },
  );
  doc.y += 12;
  const to = [nameOrNumber(lead), lead.company, lead.facts.address, lead.facts.postalCode, lead.emails[0]];
  page.text("For", { color: SECOND, size: 9 });
  for (const said of new Set(to)) if (said) page.text(said);
  doc.y += 8;
  page.text(estimate.name, { weight: "700", size: 12 }).rule();
  table(page, estimate);
  basis(page, estimate);
  if (estimate.terms.trim()) {
    doc.y += 12;
    page.text(estimate.terms, { size: 9, color: SECOND });
  }
  foot(page, `${company.name} · Estimate ${estimate.number}`, layout.footer);
  doc.end();
  return done;
}

function head(page: Writer, company: string, sender: string, logo: Buffer | null): void {
  const { doc } = page;
  if (logo) {
    try {
      doc.image(logo, EDGE, EDGE, { fit: [120, 48] });
    } catch {
      // A picture that can't be printed leaves its place free; the name stands beside it anyway.
    }
  }
  const x = EDGE + page.width / 2;
  page.text(company, { x, y: EDGE, width: page.width / 2, size: 13, weight: "700", align: "right" });
  if (sender.trim()) page.text(sender, { x, width: page.width / 2, size: 9, color: SECOND, align: "right" });
  doc.y = Math.max(doc.y, EDGE + 48) + 24;
}

function table(page: Writer, { lines, net, tax, taxName, total, currency }: Estimate): void {
  const money = (amount: number) => sayMoney(amount, currency);
  // A line that comes to nothing says nothing.
  for (const { name, amount, shown } of lines) if (shown && amount !== 0) page.line(name, money(amount));
  page.rule();
  if (tax !== 0) page.line("Before tax", money(net)).line(taxName || "Tax", money(tax));
  page.line("Total", money(total), "700", 13);
}

/** What it was reckoned from, so that nobody must ask. */
function basis(page: Writer, { inputs }: Estimate): void {
  if (inputs.length === 0) return;
  page.doc.y += 10;
  page.text(
    `Reckoned from ${inputs.map(({ name, value }) => `${name.toLowerCase()} ${value}`).join(", ")}.`,
    {
      size: 9,
      color: SECOND,
    },
  );
}

function foot(page: Writer, said: string, footer: string): void {
  const { doc } = page;
  const { start, count } = doc.bufferedPageRange();
  for (let i = start; i < start + count; i++) {
    doc.switchToPage(i);
    // What stands in the margin must not begin another page.
    doc.page.margins.bottom = 0;
    const y = doc.page.height - EDGE + 10;
    page.text([footer.trim(), said, count > 1 ? `${i + 1} of ${count}` : ""].filter(Boolean).join(" · "), {
      y,
      size: 8,
      color: SECOND,
    });
  }
}
