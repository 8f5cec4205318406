import { saveTemplate } from "../../../../../../core/setup/change.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { plainTemplate, toTemplates } from "../../../../../wire/shape-answering.ts";

export const GET = serve("GET /setup/templates", ({ desk }) => toTemplates(desk));

export const POST = serve("POST /setup/templates", ({ desk, me, body }) => {
  const template = plainTemplate({ ...body, id: body.id || desk.newId("tpl") });
  const changed = saveTemplate(desk.setup, template);
  if (!changed.ok) return refusal(changed.problem);
  desk.changeSetup(changed.setup, me.id);
  return template;
});
