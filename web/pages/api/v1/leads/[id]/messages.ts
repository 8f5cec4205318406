import { writeTo } from "../../../../../../core/desk/work.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Message } from "../../../../../wire/schemas.ts";

export const POST = endpoint(Message, ({ desk, me, params, body }) => {
  const { sendAt, files, templateId, ...rest } = body;
  const template = desk.setup.policies.templates.find((t) => t.id === templateId);
  const message = {
    ...rest,
    subject: rest.subject ?? null,
    sendAt: sendAt ? Date.parse(sendAt) : null,
    template: template ? { id: template.id, name: template.name } : null,
    ...(files && { attachments: files }),
  };
  const leadId = params.id ?? "";
  const result = desk.act(leadId, (world) => writeTo(world, message));
  if (result.ok)
    desk.letters.keepDraft(me.id, leadId, { channel: body.channel, subject: "", body: "", templateId: null });
  return answer(result, 201);
});
