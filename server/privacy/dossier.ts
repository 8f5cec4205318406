import { Zip, ZipDeflate, ZipPassThrough } from "fflate";
import nodemailer from "nodemailer";
import { contactCard } from "../../core/book/card.ts";
import { isContact } from "../../core/book/records.ts";
import { inviteText } from "../../core/booking/invite.ts";
import { called } from "../../core/lead/called.ts";
import { entryOf, type LeadEvent } from "../../core/lead/events.ts";
import type { Lead } from "../../core/lead/lead.ts";
import { escapeHtml } from "../../core/message/letter.ts";
import { nameOf } from "../../core/policy/setup.ts";
import { stageName } from "../../core/policy/stages.ts";
import { dateTime } from "../../core/time/words.ts";
import type { Attachment } from "../../core/vocabulary.ts";
import { cellsOf, listColumns } from "../../core/words/columns.ts";
import { describeEvent } from "../../core/words/describe.ts";
import type { Engine } from "../engine/engine.ts";
import { filesOf } from "../engine/rows.ts";
import { cleanName } from "../files/files.ts";
import type { Dossier } from "./dossier-schema.ts";
import type { Family } from "./eraser.ts";

const iso = (at: number) => new Date(at).toISOString();
/** Endings of what arrived, by its type; what is not known is kept as it came. */
const ENDING: Readonly<Record<string, string>> = {
  "application/json": "json",
  "application/x-www-form-urlencoded": "txt",
  "message/rfc822": "eml",
  "text/plain": "txt",
  "text/csv": "csv",
  "application/xml": "xml",
};

/** One part of what is handed out: where it lies in the archive, and its bytes, read when its turn comes. */
interface Part {
  readonly path: string;
  /** Sound, pictures and documents are packed already. */
  readonly isPacked?: true;
  readonly read: () => Uint8Array | Promise<Uint8Array> | null;
}

/**
 * Everything known of a person, to be handed to them: a page to read, the same for programs, a card, their calls, and whatever
 * came or went, each as it is. One part at a time is in memory.
 */
export class PersonFile {
  readonly #desk: Engine;
  readonly #family: Family;
  readonly #used = new Set<string>();
  readonly #parts: Part[] = [];

  constructor(desk: Engine, family: Family) {
    this.#desk = desk;
    this.#family = family;
  }

  /** The archive, as it is made. */
  zip(): ReadableStream<Uint8Array> {
    const dossier = this.dossier();
    const parts: Part[] = [
      { path: "index.html", read: () => Buffer.from(pageOf(dossier, this.#desk)) },
      { path: "person.json", read: () => Buffer.from(`${JSON.stringify(dossier, null, 1)}\n`) },
      { path: "person.vcf", read: () => Buffer.from(this.#cards()) },
      ...this.#parts,
    ];
    let at = 0;
    return new ReadableStream({
      start: (controller) => {
        this.#archive = new Zip((error, chunk, isLast) => {
          if (error) return controller.error(error);
          controller.enqueue(chunk);
          if (isLast) controller.close();
        });
      },
      pull: async () => {
        const part = parts[at++];
        if (!part) return this.#archive!.end();
        const bytes = (await part.read()) ?? new Uint8Array();
        const entry = part.isPacked ? new ZipPassThrough(part.path) : new ZipDeflate(part.path, { level: 6 });
        this.#archive!.add(entry);
        entry.push(bytes, true);
      },
    });
  }
  #archive: Zip | null = null;

  /** The same for programs. What it names as files stands in the archive. */
  dossier(): Dossier {
    const { setup, clock, looker, sql } = this.#desk;
    const { leads, contactIds } = this.#family;
    const ids = leads.map((l) => l.id);
    const { q } = sql;
    const histories = new Map(leads.map((l) => [l.id, this.#desk.reader.events(l.id)]));
    const contact = looker.book.record(contactIds[0] ?? "");
    const deals = [...contactIds, ...ids].flatMap((id) => looker.book.dealsOf(id));
    const sent = sql.all(q.selectFrom("outbox").selectAll().where("leadId", "in", ids).orderBy("n"));
    const theirs = sent.filter((m) => m.personId === null);
    const arrived = sql.all(
      q.selectFrom("inquiries").selectAll().where("leadId", "in", ids).orderBy("receivedAt"),
    );
    const calls = sql.all(q.selectFrom("calls").selectAll().where("leadId", "in", ids).orderBy("at"));
    const events = [...histories.values()].flat();
    this.#calendar(events);
    return {
      format: "kite-bell-person-1",
      made: iso(clock.now()),
      by: setup.policies.company.name,
      leads: leads.map((lead) => this.#lead(lead, histories.get(lead.id) ?? [])),
      consents: events.flatMap((e) =>
        e.kind === "inquiry"
          ? (e.data.facts.consents ?? []).map((c) => ({
              at: iso(e.at),
              source: this.#source(e.data.sourceId),
              ...c,
            }))
          : [],
      ),
      contact: isContact(contact) ? { ...contact } : null,
      deals: [...new Set(deals)].flatMap((id) => {
        const deal = looker.book.record(id);
        return deal ? [{ ...deal }] : [];
      }),
      sent: theirs.map((m) => ({
        at: iso(m.sentAt ?? m.createdAt),
        way: m.channel,
        to: m.toAddress,
        from: m.fromAddress,
        subject: m.subject,
        body: m.body,
        state: m.state,
        about: m.purpose,
        file:
          m.channel === "email"
            ? this.#put(`mails/${iso(m.createdAt).slice(0, 10)} to them.eml`, () => this.#mail(m))
            : null,
      })),
      arrived: arrived.map(({ id, receivedAt, sourceId, contentType, raw }) => ({
        id,
        at: iso(receivedAt),
        source: this.#source(sourceId),
        type: contentType,
        file: this.#put(
          `arrived/${iso(receivedAt).slice(0, 10)} ${this.#source(sourceId)}.${ENDING[contentType.split(";")[0]!.trim()] ?? "bin"}`,
          () => raw,
        ),
      })),
      calls: calls.map((c) => ({ at: iso(c.at), from: c.fromAddress, to: c.toAddress, notes: c.notes })),
      files: this.#files(events),
    };
  }

  #source(id: string): string {
    return this.#desk.setup.sources.find((s) => s.id === id)?.name ?? "a source no longer here";
  }

  #lead(lead: Lead, events: readonly LeadEvent[]): Dossier["leads"][number] {
    const { setup } = this.#desk;
    return {
      id: lead.id,
      name: lead.name,
      emails: [...lead.emails],
      phones: [...lead.phones],
      company: lead.company,
      source: this.#source(lead.sourceId),
      came: iso(lead.createdAt),
      stage: stageName(setup.policies, lead.stage),
      closed: lead.closed?.reason ?? null,
      known: { ...lead.facts },
      silent: lead.stops.map(({ channel, at, said }) => ({ way: channel, at: iso(at), said })),
      happened: events
        .filter((event) => !entryOf(event).unshown?.(event.data))
        .map((event) => ({
          at: iso(event.at),
          what: event.kind,
          said: describeEvent(event, setup),
          by:
            event.actor.kind === "person"
              ? nameOf(setup, event.actor.id)
              : event.actor.kind === "lead"
                ? "they"
                : "the desk",
          data: { ...event.data },
          ...(event.why && {
            why: event.why.steps.map(({ name, result, reason }) => ({ of: name, result, reason })),
          }),
        })),
    };
  }

  /** Put something into the archive under a name of its own; gives where it lies. */
  #put(path: string, read: Part["read"], isPacked = false): string {
    const safe = path
      .split("/")
      .map((name) => cleanName(name))
      .join("/");
    const dot = safe.lastIndexOf(".");
    const [base, ending] = dot > 0 ? [safe.slice(0, dot), safe.slice(dot)] : [safe, ""];
    let own = safe;
    for (let n = 2; this.#used.has(own.toLowerCase()); n++) own = `${base} ${n}${ending}`;
    this.#used.add(own.toLowerCase());
    this.#parts.push({ path: own, read, ...(isPacked && { isPacked: true as const }) });
    return own;
  }

  #files(events: readonly LeadEvent[]): Dossier["files"] {
    const all = new Map<string, Attachment & { readonly isRecording: boolean }>();
    for (const event of events)
      for (const file of filesOf(event))
        all.set(file.fileId, {
          ...file,
          isRecording: "recording" in event.data && event.data.recording !== null,
        });
    return [...all.values()].map(({ fileId, name, type, size, isRecording }) => ({
      name,
      type,
      bytes: size,
      file: this.#put(
        `${isRecording ? "recordings" : "files"}/${name}`,
        () => this.#desk.files.read(fileId)?.bytes ?? null,
        true,
      ),
    }));
  }

  /** A mail of ours as any mail program opens it. */
  async #mail(row: {
    fromAddress: string;
    toAddress: string;
    subject: string | null;
    body: string;
    createdAt: number;
    attachmentsJson: string | null;
  }): Promise<Uint8Array> {
    const transport = nodemailer.createTransport({ streamTransport: true, buffer: true });
    const attached = row.attachmentsJson ? (JSON.parse(row.attachmentsJson) as Attachment[]) : [];
    const { message } = await transport.sendMail({
      from: row.fromAddress,
      to: row.toAddress,
      subject: row.subject ?? "",
      text: row.body,
      date: new Date(row.createdAt),
      attachments: attached.flatMap(({ fileId, name, type }) => {
        const file = this.#desk.files.read(fileId);
        return file ? [{ filename: name, contentType: type, content: file.bytes }] : [];
      }),
    });
    return message as Buffer;
  }

  /** The calls they booked. */
  #calendar(events: readonly LeadEvent[]): void {
    const { setup, clock } = this.#desk;
    const { name, email } = setup.policies.company;
    for (const event of events)
      if (event.kind === "booked") {
        const { booked } = event.data;
        this.#put(`calls/${iso(booked.at).slice(0, 10)} call.ics`, () =>
          Buffer.from(
            inviteText({
              method: "REQUEST",
              uid: booked.id,
              sequence: booked.sequence,
              at: booked.at,
              minutes: booked.minutes,
              summary: `Call with ${nameOf(setup, booked.personId)}`,
              description: "",
              organizer: { name, email },
              attendee: {
                name: this.#family.leads[0] ? called(this.#family.leads[0]) : "",
                email: this.#family.leads[0]?.emails[0] ?? email,
              },
              now: clock.now(),
            }),
          ),
        );
      }
  }

  #cards(): string {
    const { clock, links } = this.#desk;
    const { host } = new URL(links.page("/"), "http://localhost");
    const at = iso(clock.now()).replace(/[-:]|\.\d+/g, "");
    return this.#family.leads
      .filter((lead) => !lead.joinedTo)
      .map((lead) => {
        const { id, emails, phones, facts, company } = lead;
        const who = {
          id,
          name: called(lead),
          role: null,
          emails,
          phones,
          address: facts.address,
          language: facts.language,
        };
        return contactCard(who, company === null ? null : { name: company }, { host, at });
      })
      .join("");
  }
}

const rows = (pairs: readonly (readonly [string, string])[]) =>
  pairs
    .map(([name, value]) => `<tr><th scope="row">${escapeHtml(name)}</th><td>${escapeHtml(value)}</td></tr>`)
    .join("\n");

/** The same to be read: one page that needs nothing but itself. */
function pageOf(dossier: Dossier, { setup, looker, clock }: Engine): string {
  const zone = setup.policies.desk.zone;
  const when = (at: string) => escapeHtml(dateTime(Date.parse(at), zone, clock.now()));
  const columns = listColumns(setup);
  const link = (file: string, name: string) => `<a href="${encodeURI(file)}">${escapeHtml(name)}</a>`;
  const list = (title: string, items: readonly string[]) =>
    items.length > 0 ? `<h2>${title}</h2>\n<ul>\n${items.map((i) => `<li>${i}</li>`).join("\n")}\n</ul>` : "";
  const leads = dossier.leads.map((one) => {
    const lead = looker.lead(one.id);
    const cells = lead
      ? cellsOf(
          lead,
          columns.map((c) => c.key),
          setup,
          clock.now(),
        )
      : {};
    const known = columns.flatMap(({ key, name }) => (cells[key] ? [[name, cells[key]] as const] : []));
    const answers = Object.entries((one.known.answers ?? {}) as Record<string, string>);
    const words = (event: Dossier["leads"][number]["happened"][number]) => {
      const { text, body, note, message, facts } = event.data as Record<string, unknown>;
      const said = [text, body, note, message, (facts as { message?: unknown } | undefined)?.message].find(
        (w) => typeof w === "string" && w !== "",
      );
      const why = event.why?.map((s) => `${s.of}: ${s.reason}`).filter((s) => s !== ": ") ?? [];
      return `${said ? `<blockquote>${escapeHtml(said as string)}</blockquote>` : ""}${
        why.length > 0
          ? `<details><summary>Why</summary><ul>${why.map((w) => `<li>${escapeHtml(w)}</li>`).join("")}</ul></details>`
          : ""
      }`;
    };
    return `<section>
<h2>${escapeHtml(one.name ?? one.phones[0] ?? one.emails[0] ?? "Somebody")}, first here ${when(one.came)}</h2>
<table>${rows([...known, ["Mail", one.emails.join(", ")], ["Phone", one.phones.join(", ")], ...answers])}</table>
<h3>What happened</h3>
<ol>
${one.happened.map((e) => `<li><time>${when(e.at)}</time> ${escapeHtml(e.said)} <small>(${escapeHtml(e.by)})</small>${words(e)}</li>`).join("\n")}
</ol>
</section>`;
  });
  return `<!doctype html>
<html lang="en">
<head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>What ${escapeHtml(dossier.by)} knows of you</title>
<style>body{font:16px/1.5 system-ui,sans-serif;max-width:46em;margin:2em auto;padding:0 1em;color:#2b2620}th{text-align:left;padding-right:1.5em;font-weight:400;color:#6b6256;vertical-align:top}blockquote{margin:.3em 0;padding-left:.8em;border-left:2px solid #d9ceb9;white-space:pre-wrap}time,small{color:#6b6256}li{margin:.4em 0}</style></head>
<body>
<h1>What ${escapeHtml(dossier.by)} knows of you</h1>
<p>Made ${when(dossier.made)}. The same for programs is in ${link("person.json", "person.json")}; an entry for an address book is in ${link("person.vcf", "person.vcf")}. Times are as in ${escapeHtml(zone)}.</p>
${leads.join("\n")}
${list(
  "What you agreed to",
  dossier.consents.map(
    (c) =>
      `<time>${when(c.at)}</time>, ${escapeHtml(c.source)}: “${escapeHtml(c.wording)}” ${escapeHtml(c.said)}`,
  ),
)}
${list(
  "What was sent to you",
  dossier.sent.map(
    (m) =>
      `<time>${when(m.at)}</time> ${escapeHtml(m.way)} to ${escapeHtml(m.to)}: ${m.file ? link(m.file, m.subject ?? "a mail") : escapeHtml(m.body)}`,
  ),
)}
${list(
  "What you sent",
  dossier.arrived.map((a) => `<time>${when(a.at)}</time> ${link(a.file, a.source)}`),
)}
${list(
  "Files",
  dossier.files.map((f) => link(f.file, f.name)),
)}
</body>
</html>
`;
}
