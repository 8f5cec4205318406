import { writeTo } from "../../../../../../core/desk/work.ts";
import { mayHaveFile } from "../../../../../api/belongs.ts";
import { answer, problem, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/messages", ({ desk, me, rights, params, body }) => {
  const { sendAt, files, templateId, ...rest } = body;
  if (files?.some((f) => !mayHaveFile(desk, { me, rights }, f.fileId)))
    return problem(
      "no-such-file",
      422,
      "No such file",
      "Attach files that you have just added, or that came with this lead.",
      [{ path: "files", message: "unknown" }],
    );
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
    desk.drafts.keep(me.id, leadId, { channel: body.channel, subject: "", body: "", templateId: null });
  return answer(result, 201);
});
