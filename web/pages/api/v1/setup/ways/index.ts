import { mailUrl, NotAServer } from "../../../../../../server/channels/mail-server.ts";
import { problem, serve } from "../../../../../api/endpoint.ts";
import { toWays } from "../../../../../wire/shape-access.ts";

export const GET = serve("GET /setup/ways", ({ desk, context }) =>
  toWays(desk, context.locals.ways, context.locals.publicUrl),
);

const wrong = (detail: string, path: string) =>
  problem("not-an-address", 422, "Not an address", detail, [{ path, message: detail }]);

/** Say where one of the ways leads. It is tried by what waits for it, at once. */
export const POST = serve("POST /setup/ways", async ({ desk, me, body, context }) => {
  const { ways, publicUrl } = context.locals;
  if (!ways)
    return problem(
      "a-rehearsal",
      409,
      "A rehearsal",
      "In rehearsal stand-ins take everything. Nothing is set.",
    );
  let url: string | null = null;
  if (body.way !== "email") {
    url = body.url?.trim().replace(/\/$/, "") || null;
    if (url && (!URL.canParse(url) || !/^https?:$/.test(new URL(url).protocol)))
      return wrong("Write it with its protocol, as https://gateway.example.com.", "url");
  } else if (body.server)
    try {
      url = mailUrl(body.server, ways.urlOf("email"));
    } catch (error) {
      if (error instanceof NotAServer) return wrong(error.message, "server");
      throw error;
    }
  await ways.put(body.way, url);
  desk.office.audit(me.id, url ? `set up ${body.way} as a way out` : `took ${body.way} off the ways out`, {});
  desk.outbox.led(body.way);
  return toWays(desk, ways, publicUrl);
});
