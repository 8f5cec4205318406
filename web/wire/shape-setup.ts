import { guessMapping } from "../../core/intake/guess.ts";
import { understand } from "../../core/intake/understand.ts";
import type { InquiryFacts } from "../../core/lead/inquiry.ts";
import { replyPolicyOf } from "../../core/message/reply.ts";
import { sayOwnValue } from "../../core/policy/own-fields.ts";
import { nameOf, type Setup } from "../../core/policy/setup.ts";
import type { Source } from "../../core/policy/source.ts";
import { whatIsMissing } from "../../core/source/missing.ts";
import type { ImportRow } from "../../server/db/schema.ts";
import type { Desk } from "../../server/desk.ts";
import type * as wire from "./setup-schemas.ts";
import { iso } from "./shape.ts";

/** What Set-up shows, from the engine's objects to the wire's. */

export async function toSourceRow(desk: Desk, source: Source): Promise<wire.SourceRow> {
  const { sources, setup } = desk;
  const samples = await sources.samples(source.id, 5);
  const health = sources.health(source, desk.kept.counter(`unsigned:${source.id}`) ?? 0);
  const { id, key, name, channel, state } = source;
  const reply = replyPolicyOf(setup, source);
  return {
    id,
    key,
    name,
    channel,
    state,
    line: source.line ?? null,
    formerLines: [...(source.formerLines ?? [])],
    lineOwnerId: source.lineOwnerId ?? null,
    lineGroupId: source.lineGroupId ?? null,
    replies: [reply.email.on && "email", reply.text.on && "text"].filter((w): w is string => !!w),
    health: {
      ...health,
      lastAt: health.lastAt === null ? null : iso(health.lastAt),
      changed: { added: [...health.changed.added], gone: [...health.changed.gone] },
      days: [...health.days],
    },
    lacks: whatIsMissing(
      source,
      setup,
      samples.map((s) => s.fields),
    ).map((l) => ({ ...l })),
    unmapped: await sources.unmapped(source),
  };
}

export async function toSourceDetail(desk: Desk, source: Source): Promise<wire.SourceDetail> {
  const { sources, setup } = desk;
  const samples = await sources.samples(source.id);
  const own = [
    ...(source.form ? [Object.fromEntries(source.form.fields.map((f) => [f.name, ""]))] : []),
    ...(source.adForm
      ? [Object.fromEntries((sources.questions(source) ?? source.adForm.questions).map((q) => [q.field, ""]))]
      : []),
  ];
  return {
    ...(await toSourceRow(desk, source)),
    mapping: mutable(source.mapping),
    guessed: mutable(guessMapping([...samples.map((s) => s.fields), ...own], setup.policies)),
    form: source.form ? mutable(source.form) : null,
    adForm: source.adForm ? mutable(source.adForm) : null,
    samples: samples.map((s) => ({ ...s, at: iso(s.at), fields: { ...s.fields } })),
    versions: sources.mappings(source.id).map((v) => ({
      ...v,
      at: iso(v.at),
      by: v.by && nameOf(setup, v.by),
      mapping: mutable(v.mapping),
    })),
  };
}

/** The wire's types are not readonly; nothing is copied, since they are only sent. */
function mutable<T>(value: T): Mutable<T> {
  return value as Mutable<T>;
}
type Mutable<T> = T extends object ? { -readonly [K in keyof T]: Mutable<T[K]> } : T;

/** What a sample would become under a mapping, as lines to read. */
export function tryOut(setup: Setup, source: Source, fields: Record<string, string>): wire.Tried {
  const understood = understand(source, setup.policies, fields);
  if (!understood.ok) return { ok: false, reason: understood.reason, facts: [], answers: {} };
  return {
    ok: true,
    reason: null,
    facts: factLines(understood.facts, setup),
    answers: { ...understood.facts.answers },
  };
}

function factLines(facts: InquiryFacts, { policies }: Setup): { name: string; value: string }[] {
  const kind = (phone: string) => (facts.kinds?.[phone] ? ` (${facts.kinds[phone]})` : "");
  const product = policies.products.find((p) => p.key === facts.product)?.name ?? null;
  const territory = policies.territories.find((t) => t.key === facts.territory)?.name ?? null;
  const rows: [string, string | null | undefined][] = [
    ["Name", facts.name],
    ...facts.phones.map((p): [string, string] => ["Phone", p + kind(p)]),
    ...facts.emails.map((e): [string, string] => ["Email", e]),
    ["Company", facts.company],
    ["Product", product],
    ["What they wrote", facts.message],
    ["Address", facts.address],
    ["Postal code", facts.postalCode],
    ["Territory", territory],
    ["Language", facts.language],
    ["Preferred way", facts.preferred],
    ["Source detail", facts.detail],
    ["Tags", facts.tags.join(", ")],
    ...policies.fields.flatMap((f): [string, string][] => {
      const value = facts.own?.[f.key];
      return value === undefined ? [] : [[f.name, sayOwnValue(f, value, policies.company.currency)]];
    }),
  ];
  return rows.flatMap(([name, value]) => (value ? [{ name, value }] : []));
}

export function toImport(row: ImportRow, setup: Setup): wire.Import {
  const { id, at, by, sourceId, name, state, total, done, made, joined, rejected, finishedAt, error } = row;
  return {
    id,
    at: iso(at),
    by: nameOf(setup, by),
    source: setup.sources.find((s) => s.id === sourceId)?.name ?? "a source no longer here",
    name,
    state,
    total,
    done,
    made,
    joined,
    rejected,
    finishedAt: finishedAt === null ? null : iso(finishedAt),
    error,
  };
}
