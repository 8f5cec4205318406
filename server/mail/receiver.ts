import type { AddressInfo } from "node:net";
import { SMTPServer, type SMTPServerSession } from "smtp-server";
import { toEmail } from "../../core/contact/email.ts";
import type { Source } from "../../core/policy/source.ts";
import { sourceOfLine } from "../../core/source/lines.ts";
import type { Desk } from "../desk.ts";
import type { Delivery } from "../intake/payload.ts";

/** The most one mail may weigh, in bytes. */
export const MOST_MAIL = 25 * 1_048_576;

/** What the other mail server is told, with its SMTP reply code. */
function reply(code: number, text: string): Error {
  return Object.assign(new Error(text), { responseCode: code });
}

/** Sent to the company's own address by a mail server, but no report of a mail of ours. */
class NoReport extends Error {
  readonly responseCode = 550;
  override message = "This address takes reports of its own mails only.";
}

/** The source that listens on an address: its mailbox, or a document source's. */
export function sourceOfAddress(sources: readonly Source[], address: string): Source | undefined {
  const wanted = toEmail(address);
  return wanted ? sourceOfLine(sources, ["email", "document"], wanted) : undefined;
}

/**
 * Receives mail for the desk's addresses over SMTP. A mail is accepted once it is on disk and not before: until then
 * the sender's server keeps it and tries again. Mail to an address that is none of ours is refused at the door.
 */
export async function startReceiver(
  desk: Desk,
  { port, host }: { readonly port: number; readonly host: string },
): Promise<{ readonly port: number; readonly close: () => Promise<void> }> {
  // Mails that come back reach the address they were sent from, be it a source's or the company's own.
  const mayReport = (address: string, { envelope }: SMTPServerSession) =>
    (envelope.mailFrom === false || envelope.mailFrom.address === "") &&
    toEmail(address) === desk.setup.policies.company.email;
  const reported = async (delivery: Delivery) => {
    const read = await desk.payloads.read(delivery);
    const report = read.ok ? read.mail?.report : null;
    if (!report || !desk.receipts.takeMail(report)) throw new NoReport();
  };
  const server = new SMTPServer({
    size: MOST_MAIL,
    authOptional: true,
    disabledCommands: ["AUTH", "STARTTLS"],
    logger: false,
    banner: "Kite Bell",
    onRcptTo(address, session, done) {
      if (sourceOfAddress(desk.setup.sources, address.address) || mayReport(address.address, session)) done();
      else done(reply(550, `${address.address} is no address of this desk.`));
    },
    onData(stream, session, done) {
      const chunks: Buffer[] = [];
      stream.on("data", (chunk: Buffer) => chunks.push(chunk));
      stream.on("error", (error) => done(error));
      stream.on("end", () => {
        if (stream.sizeExceeded) {
          done(
            reply(552, "A mail may weigh 25 MB at most. Nothing was kept: send the files by a link instead."),
          );
          return;
        }
        const raw = Buffer.concat(chunks);
        const from = session.envelope.mailFrom;
        const headers = { "return-path": from === false ? "" : from.address };
        const sources = new Set(
          session.envelope.rcptTo.flatMap((to) => sourceOfAddress(desk.setup.sources, to.address) ?? []),
        );
        const delivery = { contentType: "message/rfc822", headers, raw };
        const taken = [...sources].map((source) => desk.intake.submit(source, delivery));
        Promise.all(taken.length > 0 ? taken : [reported(delivery)]).then(
          () => done(),
          (error: unknown) =>
            done(
              error instanceof NoReport
                ? error
                : reply(451, "The mail could not be written to disk. Try again later."),
            ),
        );
      });
    },
  });
  server.on("error", () => {});
  await new Promise<void>((resolve, reject) => {
    server.server.once("error", reject);
    server.listen(port, host, () => resolve());
  });
  const { port: bound } = server.server.address() as AddressInfo;
  return { port: bound, close: () => new Promise((resolve) => server.close(() => resolve())) };
}
