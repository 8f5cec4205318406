import { openSource } from "../../../../../core/intake/open-source.ts";
import { refusal, serve } from "../../../../api/endpoint.ts";

/** So many are under way at once: as many as share one flush to disk. */
const TOGETHER = 64;

export const POST = serve("POST /inquiries/many", async ({ desk, body: { source: key, inquiries } }) => {
  const open = openSource(desk.setup.sources, key);
  if (!open.ok) return refusal(open.problem);
  const items = [];
  for (let at = 0; at < inquiries.length; at += TOGETHER) {
    const some = inquiries.slice(at, at + TOGETHER).map((fields) =>
      desk.intake.submit(open.source, {
        contentType: "application/json",
        headers: { "content-type": "application/json" },
        raw: Buffer.from(JSON.stringify(fields)),
      }),
    );
    items.push(...(await Promise.all(some)));
  }
  return { items };
});
