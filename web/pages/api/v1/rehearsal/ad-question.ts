import { problem, serve } from "../../../../api/endpoint.ts";

/** Somebody adds a question to a running ad form, as people do without telling anybody. */
export const POST = serve("POST /rehearsal/ad-question", ({ rehearsal, desk, body }) => {
  const formId = desk.setup.sources.find((s) => s.key === body.source)?.adForm?.formId;
  if (!formId) return problem("no-such-form", 422, "No such form", `There is no ad form “${body.source}”.`);
  rehearsal.platform.addQuestion(formId, { field: body.field, label: body.label });
  return { added: true };
});
