import { z } from "zod";
import { endpoint } from "../../../../../api/endpoint.ts";

export const POST = endpoint(z.object({ value: z.string() }), ({ desk, body }) => ({
  removed: desk.letters.unsuppress(body.value),
}));
