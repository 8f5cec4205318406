import { canHold } from "../condition/possible.ts";
import type { FieldKey, FieldValue } from "../condition/tree.ts";
import type { Fields } from "../intake/fields.ts";
import { findProduct } from "../intake/understand.ts";
import { replyPolicyOf } from "../message/reply.ts";
import { guessFact } from "../policy/field-names.ts";
import type { Setup } from "../policy/setup.ts";
import type { Source } from "../policy/source.ts";

/** Something a source lacks. What `stops` keeps it from going live; the rest is worth knowing. */
export interface Lack {
  readonly stops: boolean;
  readonly said: string;
}

const CALLED_BY_ITSELF = new Set(["call", "text", "email", "chat", "hand", "spreadsheet", "document"]);

/** What a source lacks before it can be trusted with people, by its settings and the last things it brought. */
export function whatIsMissing(source: Source, setup: Setup, samples: readonly Fields[]): Lack[] {
  const lacks: Lack[] = [];
  const stop = (said: string) => lacks.push({ stops: true, said });
  const note = (said: string) => lacks.push({ stops: false, said });
  if (["call", "text"].includes(source.channel) && !source.line) stop("No phone line: nothing can reach it.");
  if (source.channel === "email" && !source.line) stop("No mail address: nothing can reach it.");
  if (source.channel === "website" && source.form?.fields.length === 0) stop("Its form asks nothing.");
  if (source.channel === "ad-form" && !source.signingSecret)
    stop("Not connected to a form of the ad platform.");
  if (!mapsContactWay(source, samples)) stop("No field is mapped to a phone number or a mail address.");
  if (!reachesRule(source, setup)) stop("No routing rule can ever fit what it brings: nobody would get it.");
  const { email, text } = replyPolicyOf(setup, source);
  if (!email.on && !text.on && !["hand", "call", "spreadsheet"].includes(source.channel))
    note("It sends no first reply.");
  if (samples.length === 0) note("Nothing has come through it yet. Send a test.");
  return lacks;
}

/** Whether something it brings can be a phone number or an address. Calls, mails and texts bring one on their own. */
export function mapsContactWay(source: Source, samples: readonly Fields[]): boolean {
  if (CALLED_BY_ITSELF.has(source.channel)) return true;
  const { fields, joins } = source.mapping;
  const names = [
    ...Object.keys(fields),
    ...(source.form?.fields ?? []).map((f) => f.name),
    ...(source.adForm?.questions ?? []).map((q) => q.field),
    ...samples.flatMap((s) => Object.keys(s)),
  ];
  const becomes = (name: string) => fields[name]?.to ?? guessFact(name);
  return (
    names.some((n) => becomes(n) === "email" || becomes(n) === "phone") ||
    joins.some((j) => j.to === "email" || j.to === "phone")
  );
}

/** Whether some rule may fit what the source brings, as far as that is settled beforehand. */
export function reachesRule(source: Source, setup: Setup): boolean {
  const product = findProduct(setup.policies, source.mapping.constants.product ?? null)?.key;
  const settled: Partial<Record<FieldKey, FieldValue>> = {
    source: source.key,
    channel: source.channel,
    ...(product && !Object.values(source.mapping.fields).some((f) => f.to === "product") && { product }),
  };
  return setup.policies.rules.some((rule) => canHold(rule.when, (field) => settled[field]) !== "no");
}
