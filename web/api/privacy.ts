import { z } from "zod";
import { inWords } from "../../core/condition/condition.ts";
import { called } from "../../core/lead/called.ts";
import { catalogue, namesIn } from "../../core/lead/fields.ts";
import { nameOf } from "../../core/policy/setup.ts";
import type { Desk } from "../../server/desk.ts";
import { PersonFile } from "../../server/privacy/dossier.ts";
import { Dossier } from "../../server/privacy/dossier-schema.ts";
import type { ErasedOf } from "../../server/privacy/eraser.ts";
import type { Erasure } from "../../server/privacy/erasures.ts";
import type { PersonSummary, Privacy } from "../wire/privacy-schemas.ts";

const iso = (at: number) => new Date(at).toISOString();
/** So many of each are shown. */
const SHOWN = 200;

const several = (n: number, one: string, many = `${one}s`) =>
  `${n.toLocaleString("en")} ${n === 1 ? one : many}`;

/** What became of it, in words. */
function saidOf({ saidJson }: Erasure): string {
  if (!saidJson) return "";
  const said = JSON.parse(saidJson) as ErasedOf | { readonly why: string };
  if ("why" in said) return said.why;
  const { leads, events, messages, inquiries, files, elsewhere } = said;
  return [
    `${several(events, "event")} of ${several(leads, "lead")}`,
    several(inquiries, "inquiry", "inquiries"),
    several(messages, "message"),
    several(files, "file"),
    ...(elsewhere > 0 ? [`named in ${several(elsewhere, "other place")}`] : []),
  ].join(", ");
}

/** Who is to be erased, who was, and how long people are kept. */
export function toPrivacy(desk: Desk): Privacy {
  const { setup, erasures, looker, backups } = desk;
  const { rules, noticeDays } = setup.policies.privacy;
  const made = backups.all().map(({ name, manifest }) => ({ name, at: manifest.at }));
  const shown = (row: Erasure): Privacy["waiting"][number] => {
    const lead = looker.lead(row.leadId);
    const { id, leadId, askedAt, by, because, dueAt, doneAt } = row;
    return {
      id,
      leadId,
      who: lead ? called(lead) : "Somebody no longer here",
      askedAt: iso(askedAt),
      by: by === null ? null : nameOf(setup, by),
      because,
      dueAt: iso(dueAt),
      doneAt: doneAt === null ? null : iso(doneAt),
      said: saidOf(row),
      backups:
        row.state === "done" && doneAt !== null ? made.filter((b) => b.at < doneAt).map((b) => b.name) : [],
    };
  };
  const names = namesIn(setup);
  return {
    rules: rules.map((rule) => ({ ...rule })) as Privacy["rules"],
    noticeDays,
    catalogue: catalogue(setup) as Privacy["catalogue"],
    sentences: Object.fromEntries(rules.map((r) => [r.id, r.when ? inWords(r.when, names) : "every lead"])),
    waiting: erasures.list("waiting", SHOWN).map(shown),
    waitingCount: erasures.count("waiting"),
    done: erasures.list("done", SHOWN).map(shown),
    doneCount: erasures.count("done"),
    kept: erasures.list("kept", 20).map(shown),
    zone: setup.policies.desk.zone,
  };
}

/** What is kept of the person behind a lead. */
export function toPerson(desk: Desk, leadId: string): PersonSummary {
  const family = desk.erasures.family(leadId);
  const dossier = new PersonFile(desk, family).dossier();
  const contact = family.contactIds.flatMap((id) => desk.looker.book.record(id)?.name ?? [])[0] ?? null;
  const waiting = family.leads.flatMap((l) => desk.erasures.waitingFor(l.id) ?? [])[0];
  return {
    leads: family.leads.map((lead) => ({ id: lead.id, who: called(lead), came: iso(lead.createdAt) })),
    contact,
    consents: dossier.consents,
    events: dossier.leads.reduce((n, l) => n + l.happened.length, 0),
    messages: dossier.sent.length,
    inquiries: dossier.arrived.length,
    files: dossier.files.length,
    erasure: waiting ? { id: waiting.id, dueAt: iso(waiting.dueAt) } : null,
  };
}

/** The JSON Schema of what programs read of a person. */
export const personSchema = (): Record<string, unknown> =>
  z.toJSONSchema(Dossier, { target: "draft-2020-12" }) as Record<string, unknown>;
