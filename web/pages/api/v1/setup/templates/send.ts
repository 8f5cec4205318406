import { problem, serve } from "../../../../../api/endpoint.ts";
import { tryTemplate } from "../../../../../wire/shape-answering.ts";

/** Send it to whoever asks, over the real channel. */
export const POST = serve("POST /setup/templates/send", ({ desk, me, body }) => {
  const { faults, subject, body: written } = tryTemplate(desk, me, body);
  if (faults.length > 0 || !written)
    return problem(
      "it-cant-be-filled-in",
      422,
      "It can’t be filled in",
      faults[0]?.message ?? "Nothing is written.",
    );
  const { channel, attachments = [] } = body.template;
  const to = channel === "email" ? me.email : me.phone;
  desk.sql.transaction(() =>
    desk.queueNotice({
      channel,
      key: `trial:${desk.newId("trial")}`,
      to,
      subject: channel === "email" ? (subject ?? "") : null,
      body: written,
      personId: me.id,
      purpose: "trial",
      attachments,
    }),
  );
  desk.outbox.kick();
  return { to };
});
