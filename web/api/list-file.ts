import { FORMATS, type Format, written } from "../../server/lists/written.ts";
import type { Call } from "./endpoint.ts";
import { refusal } from "./endpoint.ts";
import { askedList } from "./lists.ts";

/** The leads a query asks for, as a file to keep. */
export async function listFile(
  { desk, me, rights, query }: Pick<Call<"GET /leads.csv">, "desk" | "me" | "rights" | "query">,
  format: Format,
): Promise<Response> {
  const asked = askedList(desk, { me, rights }, query);
  if ("code" in asked) return refusal(asked);
  const { text } = await written(desk, desk.lists.listing, asked, format);
  return new Response(text, {
    headers: {
      "content-type": FORMATS[format].type,
      "content-disposition": `attachment; filename="leads.${format}"`,
      "cache-control": "private, no-store",
    },
  });
}
