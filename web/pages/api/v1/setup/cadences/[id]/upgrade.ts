import { serve } from "../../../../../../api/endpoint.ts";

export const POST = serve("POST /setup/cadences/[id]/upgrade", ({ desk, params }) => ({
  moved: desk.cadences.upgrade(params.id ?? ""),
}));
