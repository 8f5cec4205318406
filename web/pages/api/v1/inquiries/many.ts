import { problem, serve } from "../../../../api/endpoint.ts";

/** So many are under way at once: as many as share one flush to disk. */
const TOGETHER = 64;

export const POST = serve("POST /inquiries/many", async ({ desk, body: { source: key, inquiries } }) => {
  const source = desk.setup.sources.find((s) => s.key === key || s.id === key);
  if (!source)
    return problem("no-such-source", 404, "No such source", `There is no source with the key “${key}”.`, [
      { path: "source", message: "Give the key of a source." },
    ]);
  if (source.state === "draft")
    return problem(
      "not-live",
      409,
      "Not live",
      `${source.name} is a draft: put it live before sending to it.`,
    );
  const items = [];
  for (let at = 0; at < inquiries.length; at += TOGETHER) {
    const some = inquiries.slice(at, at + TOGETHER).map((fields) =>
      desk.intake.submit(source, {
        contentType: "application/json",
        headers: { "content-type": "application/json" },
        raw: Buffer.from(JSON.stringify(fields)),
      }),
    );
    items.push(...(await Promise.all(some)));
  }
  return { items };
});
