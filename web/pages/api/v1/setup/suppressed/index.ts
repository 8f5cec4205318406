import { toEmail } from "../../../../../../core/contact/email.ts";
import { toE164 } from "../../../../../../core/contact/phone.ts";
import { nameOf } from "../../../../../../core/policy/setup.ts";
import { serve } from "../../../../../api/endpoint.ts";
import { iso } from "../../../../../wire/shape.ts";

export const GET = serve("GET /setup/suppressed", ({ desk }) => ({
  items: desk.suppressions
    .list()
    .map((row) => ({ ...row, at: iso(row.at), by: row.by && nameOf(desk.setup, row.by) })),
  next: null,
}));

/** One or many, as they stand in a column, a line or a list with commas. */
export const POST = serve("POST /setup/suppressed", ({ desk, me, body }) => {
  const written = body.values.split(/[\n,;\t]+/).map((v) => v.trim().replace(/^"|"$/g, ""));
  const { country } = desk.setup.policies.company;
  const wrong: string[] = [];
  const values = new Set<string>();
  for (const value of written.filter(Boolean)) {
    const read = value.includes("@") ? toEmail(value) : toE164(value, country);
    if (read) values.add(read);
    else wrong.push(value);
  }
  const added = desk.suppressions.add([...values], body.reason || "put on the list by hand", me.id);
  return { added, known: values.size - added, wrong };
});
