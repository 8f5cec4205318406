import { saveTemplate } from "../../../../../../core/setup/change.ts";
import { endpoint, refusal } from "../../../../../api/endpoint.ts";
import { Template } from "../../../../../wire/answering-schemas.ts";
import { plainTemplate, toTemplates } from "../../../../../wire/shape-answering.ts";

export const GET = endpoint(null, ({ desk }) => toTemplates(desk));

export const POST = endpoint(Template, ({ desk, me, body }) => {
  const template = plainTemplate({ ...body, id: body.id || desk.newId("tpl") });
  const changed = saveTemplate(desk.setup, template);
  if (!changed.ok) return refusal(changed.problem);
  desk.changeSetup(changed.setup, me.id);
  return template;
});
