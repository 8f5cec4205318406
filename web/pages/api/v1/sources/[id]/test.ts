import { seeTo } from "../../../../../../core/setup/first-steps.ts";
import { testRun } from "../../../../../../server/source/test-run.ts";
import { serve } from "../../../../../api/endpoint.ts";
import { sourceOf } from "../../../../../api/source.ts";

/** Send a sample through the real path as a marked test lead that can be wiped. */
export const POST = serve(
  "POST /sources/[id]/test",
  sourceOf(async (source, { desk, me, body }) => {
    const receipt = await testRun(desk, source, body.fields, body.mapping, me, body.byRules ?? false);
    if (!desk.setup.policies.settled.includes("tried")) desk.office.change(me.id, seeTo("tried"));
    if (!receipt.quarantined) return { ...receipt, reason: null };
    const held = desk.reader.quarantine(200, source.id).find((q) => q.id === receipt.inquiryId);
    return { ...receipt, reason: held?.reason ?? null };
  }),
);
