import { serve } from "../../../../../api/endpoint.ts";
import { sourceOf } from "../../../../../api/source.ts";
import { tryOut } from "../../../../../wire/shape-setup.ts";

/** What a sample would become under a mapping that is not in force. Changes nothing. */
export const POST = serve(
  "POST /sources/[id]/try",
  sourceOf((source, { desk, body }) => tryOut(desk.setup, { ...source, mapping: body.mapping }, body.fields)),
);
