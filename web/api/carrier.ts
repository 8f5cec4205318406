import type { ZodType } from "zod";
import { isSigned } from "../../server/intake/signature.ts";
import { invalid, problem } from "./endpoint.ts";

type Signed<T> =
  | { readonly ok: true; readonly data: T }
  | { readonly ok: false; readonly response: Response };

/** What the carrier sends, signed by Standard Webhooks and of the shape asked for; else the refusal to answer with. */
export async function signedByCarrier<T>(
  request: Request,
  { desk }: App.Locals,
  shape: ZodType<T>,
): Promise<Signed<T>> {
  const raw = Buffer.from(await request.arrayBuffer());
  const refused = (response: Response) => ({ ok: false, response }) as const;
  // The carrier lives in real time, also in rehearsal.
  if (
    !isSigned(desk.carrierSecret, raw, Object.fromEntries(request.headers), [desk.clock.now(), Date.now()])
  ) {
    desk.kept.count("unsigned:carrier");
    const said = "The signature is missing, wrong or older than five minutes. Nothing was kept.";
    return refused(problem("not-signed", 401, "Not signed", said));
  }
  let sent: unknown;
  try {
    sent = JSON.parse(raw.toString("utf8"));
  } catch {
    return refused(problem("not-json", 400, "Not JSON", "Send a JSON body."));
  }
  const read = shape.safeParse(sent);
  return read.success ? { ok: true, data: read.data } : refused(invalid(read.error));
}
