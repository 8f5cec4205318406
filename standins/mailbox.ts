import type { AddressInfo } from "node:net";
import { simpleParser } from "mailparser";
import { SMTPServer } from "smtp-server";
import type { Outside } from "./outside.ts";

/** Everybody's mailbox: a real SMTP server on the loopback that keeps what it gets, told apart by Message-ID. */
export async function startMailbox(outside: Outside): Promise<{ url: string; close: () => Promise<void> }> {
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ["STARTTLS", "AUTH"],
    logger: false,
    onMailFrom(_address, _session, done) {
      done(
        outside.down.has("email")
          ? Object.assign(new Error("The mailbox is down."), { responseCode: 451 })
          : null,
      );
    },
    onData(stream, _session, done) {
      simpleParser(stream).then((mail) => {
        const to = Array.isArray(mail.to) ? mail.to[0] : mail.to;
        const headers = Object.fromEntries(
          mail.headerLines.map((h) => [h.key, h.line.slice(h.key.length + 1).trim()]),
        );
        outside.receive(mail.messageId ?? `${Math.random()}`, {
          channel: "email",
          to: to?.value[0]?.address ?? "",
          from: mail.from?.value[0]?.address ?? "",
          subject: mail.subject ?? "",
          body: (mail.text ?? "").trimEnd(),
          ...(mail.html && { html: mail.html }),
          ...calendarIn(mail.attachments),
          ...(mail.attachments.length > 0 && {
            files: mail.attachments.map((a) => ({ name: a.filename ?? "file", size: a.size })),
          }),
          headers,
        });
        done();
      }, done);
    },
  });
  // Whoever is cut off while sending sends again; the mailbox stays.
  server.on("error", () => {});
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", () => resolve()));
  const { port } = server.server.address() as AddressInfo;
  return {
    url: `smtp://127.0.0.1:${port}?pool=true&ignoreTLS=true`,
    close: () => new Promise((resolve) => server.close(() => resolve())),
  };
}

/** The calendar file a mail carries, as a calendar program would take it. */
function calendarIn(attachments: readonly { contentType: string; content: Buffer }[]): { calendar?: string } {
  const file = attachments.find((a) => /calendar|ics/.test(a.contentType));
  return file ? { calendar: file.content.toString("utf8") } : {};
}
