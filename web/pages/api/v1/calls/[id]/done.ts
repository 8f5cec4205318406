import { z } from "zod";
import { endpoint } from "../../../../../api/endpoint.ts";

export const POST = endpoint(z.object({}), ({ params, context }) => ({
  done: context.locals.dialer.putAside(params.id ?? ""),
}));
