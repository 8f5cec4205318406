import { keyOf } from "../policy/own-fields.ts";
import type { Setup } from "../policy/setup.ts";
import type { DocumentLayout, Worksheet } from "../policy/worksheet.ts";
import type { Refused } from "../refusal.ts";
import { FUNCTION_NAMES, parse } from "../worksheet/formula.ts";
import { readDecimal } from "../worksheet/reckon.ts";
import type { Changed } from "./change.ts";
import { put, wrong } from "./change-company.ts";

const NAME = /^[a-z][a-z0-9_]{0,39}$/;
/** Words that mean something in formulas already. */
const RESERVED = new Set([...FUNCTION_NAMES, "and", "or", "this", "tax"]);

/** Change how estimates are reckoned. A worksheet that differs from what it was is a new version. */
export function changeWorksheets(
  setup: Setup,
  sheets: readonly Worksheet[],
  layout: DocumentLayout = setup.policies.layout,
): Changed {
  const ids = new Set<string>();
  const tidy: Worksheet[] = [];
  for (const [i, sheet] of sheets.entries()) {
    const path = `worksheets.${i}`;
    const read = worksheetOf(setup, sheet, path);
    if ("ok" in read) return read;
    let id = sheet.id || `ws_${keyOf(read.name) || i}`;
    for (let n = 2; ids.has(id); n++) id = `${sheet.id || `ws_${keyOf(read.name)}`}_${n}`;
    ids.add(id);
    const old = setup.policies.worksheets.find((w) => w.id === id);
    const same =
      old && JSON.stringify({ ...old, version: 0 }) === JSON.stringify({ ...read, id, version: 0 });
    tidy.push({ ...read, id, version: same ? old.version : (old?.version ?? 0) + 1 });
  }
  return put(setup, { worksheets: tidy, layout });
}

/** A worksheet as it is kept, or what is wrong with it. Every name in a formula is an input or stands above. */
export function worksheetOf(setup: Setup, sheet: Worksheet, path: string): Worksheet | Refused {
  const name = sheet.name.trim();
  if (!name) return wrong("it-needs-a-name", "It needs a name", "Give the worksheet a name.", `${path}.name`);
  if (sheet.product && !setup.policies.products.some((p) => p.key === sheet.product))
    return wrong("no-such-product", "No such product", "Choose one of the products.", `${path}.product`);
  if (sheet.lines.length === 0)
    return wrong("no-line", "No line", "A worksheet has one line at least.", `${path}.lines`);
  const known = new Set<string>();
  for (const [i, { key, name: said, usual, from }] of sheet.inputs.entries()) {
    const at = `${path}.inputs.${i}`;
    const bad = keyProblem(key, known, `${at}.key`);
    if (bad) return bad;
    if (!said.trim())
      return wrong("it-needs-a-name", "It needs a name", "Give the input a name.", `${at}.name`);
    if (usual && !readDecimal(usual))
      return wrong("not-a-number", "Not a number", `“${usual}” is not a number.`, `${at}.usual`);
    if (from && from !== "value" && !setup.policies.fields.some((f) => `own.${f.key}` === from))
      return wrong("no-such-field", "No such field", `There is no field “${from}”.`, `${at}.from`);
    known.add(key);
  }
  const lines = new Set<string>();
  for (const [i, { key, name: said, formula, roundTo }] of sheet.lines.entries()) {
    const at = `${path}.lines.${i}`;
    const bad = keyProblem(key, known, `${at}.key`);
    if (bad) return bad;
    if (!said.trim())
      return wrong("it-needs-a-name", "It needs a name", "Give the line a name.", `${at}.name`);
    const parsed = parse(formula);
    if (!parsed.ok)
      return wrong(
        "formula-cant-be-read",
        "The formula can’t be read",
        `${said}: ${parsed.message} (at character ${parsed.at + 1})`,
        `${at}.formula`,
      );
    const strange = parsed.names.find((n) => !known.has(n));
    if (strange)
      return wrong(
        "no-such-name",
        "No such name",
        `${said}: “${strange}” is neither an input nor a line above it.`,
        `${at}.formula`,
      );
    if (roundTo && !readDecimal(roundTo)?.gte("0.0001"))
      return wrong("not-a-number", "Not a number", "Round to a number above 0.", `${at}.roundTo`);
    known.add(key);
    lines.add(key);
  }
  if (!lines.has(sheet.total))
    return wrong("no-such-line", "No such line", "Say which line is the price.", `${path}.total`);
  const tax = readDecimal(sheet.tax || "0");
  if (!tax || tax.lt(0) || tax.gt(100))
    return wrong("not-a-percentage", "Not a percentage", "Tax is a percentage from 0 to 100.", `${path}.tax`);
  if (!(Number.isInteger(sheet.validDays) && sheet.validDays >= 1 && sheet.validDays <= 3650))
    return wrong("not-days", "Not days", "A price holds for 1 to 3650 days.", `${path}.validDays`);
  return { ...sheet, name, tax: sheet.tax || "0" };
}

function keyProblem(key: string, known: ReadonlySet<string>, path: string): Refused | null {
  if (!NAME.test(key) || RESERVED.has(key))
    return wrong(
      "not-a-name",
      "Not a name",
      `“${key}” can’t be a name in formulas: small letters, digits and _, and none of the functions.`,
      path,
    );
  return known.has(key)
    ? wrong("the-name-is-taken", "The name is taken", `“${key}” stands there twice.`, path)
    : null;
}
