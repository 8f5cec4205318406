import type { z } from "zod";
import { readablePhone } from "../../core/contact/readable-phone.ts";
import { sampleLead } from "../../core/desk/sample-lead.ts";
import { likelyOutcome } from "../../core/desk/work.ts";
import { called } from "../../core/lead/called.ts";
import type { Lead } from "../../core/lead/lead.ts";
import { HEADINGS } from "../../core/message/cards.ts";
import { letterHtml } from "../../core/message/letter.ts";
import { mergeFields } from "../../core/message/merge-fields.ts";
import { BOOKING } from "../../core/message/outgoing.ts";
import { planReplies } from "../../core/message/reply.ts";
import { restrain, whereabouts } from "../../core/message/restraint.ts";
import { renderTemplate } from "../../core/message/template.ts";
import { ALERTS, URGENT } from "../../core/policy/alerts.ts";
import type { ReplyPolicy, Template } from "../../core/policy/answering.ts";
import { textIn } from "../../core/policy/company.ts";
import type { Person } from "../../core/policy/people.ts";
import { languagesOf, type Setup } from "../../core/policy/setup.ts";
import type { Source } from "../../core/policy/source.ts";
import { faultsOf, usesOf } from "../../core/setup/change.ts";
import { nextWallTime } from "../../core/time/defer.ts";
import type { AlertAbout } from "../../core/vocabulary.ts";
import type { OpenCall } from "../../server/calls/dialer.ts";
import type { Desk } from "../../server/desk.ts";
import type * as wire from "./answering-schemas.ts";
import type { TryTemplate } from "./answering-schemas.ts";
import { iso } from "./shape.ts";

/** Replies and templates, from the engine's objects to the wire's. */

const mutable = <T>(value: T) => structuredClone(value) as never;

export function toReplies(setup: Setup): wire.RepliesSetup {
  const { replies, templates, products, restraint } = setup.policies;
  return {
    usual: mutable<ReplyPolicy>(replies.usual),
    again: { ...replies.again },
    sources: setup.sources
      .filter((s) => s.channel !== "spreadsheet")
      .map((s) => ({
        id: s.id,
        name: s.name,
        channel: s.channel,
        line: s.line ?? null,
        own: s.reply ? mutable<ReplyPolicy>(s.reply) : null,
      })),
    templates: templates.map(({ id, name, channel }) => ({ id, name, channel })),
    products: products.map(({ key, name }) => ({ key, name })),
    languages: [...languagesOf(setup)],
    allowed: { ...restraint.allowed },
  };
}

/** Exactly what one person would receive for an inquiry through a source, and when. Changes nothing. */
export function tryReplies(
  desk: Desk,
  setup: Setup,
  source: Source,
  leadId: string | null,
  at: "now" | "night",
): wire.TriedReplies {
  const real = desk.clock.now();
  const known = leadId ? desk.looker.lead(leadId) : null;
  // As if they had not been answered yet: the question is what an inquiry brings.
  const lead: Lead = { ...(known ?? sampleLead(setup, source, real)), automatic: [] };
  const { zone } = whereabouts(setup, lead, lead.phones[0] ?? null)[0]!;
  const now = at === "night" ? nextWallTime(real, zone, "23:30") : real;
  const { suppressed } = desk.look(null);
  return {
    lead: lead.name ?? "Somebody",
    at: iso(now),
    zone,
    replies: planReplies(setup, source, lead, now).map((reply) => {
      const nothing = { at: null, to: null, from: null, template: null, subject: null, body: null };
      if (reply.does === "nothing")
        return {
          ...nothing,
          channel: reply.channel,
          does: "nothing",
          reason: reply.because,
          missing: reply.missing,
        };
      const { channel, template, to, from, anyHour } = reply;
      const due = now + reply.delayMinutes * 60_000;
      const verdict = restrain(setup, lead, { channel, to, anyHour }, due, suppressed);
      if (verdict.does === "refuse")
        return { ...nothing, channel, does: "nothing", to, reason: verdict.reason, missing: false };
      const { subject, body } = renderTemplate(template, setup, lead);
      return {
        channel,
        does: verdict.does,
        at: iso(verdict.does === "hold" ? verdict.until : due),
        to,
        from,
        template: template.name,
        subject,
        body,
        reason: verdict.does === "hold" ? verdict.reason : reply.because,
        missing: false,
      };
    }),
  };
}

const NO_FIGURES = { sent: 0, replied: 0, low: 0, high: 1 };

export function toTemplates(desk: Desk): wire.TemplatesSetup {
  const { setup, templateRecord } = desk;
  const figures = templateRecord.figures();
  return {
    items: setup.policies.templates.map((template) => ({
      ...(mutable<Template>(template) as wire.Template),
      uses: [...usesOf(setup, template.id)],
      ...(figures.get(template.id) ?? NO_FIGURES),
    })),
    fields: mergeFields(setup).map((f) => ({ ...f })),
    languages: [...languagesOf(setup)],
  };
}

/** A template from the wire, without what is empty. */
export function plainTemplate({ attachments, texts, ...rest }: wire.Template): Template {
  const written = Object.entries(texts).filter(([, { body }]) => body.trim());
  return {
    ...rest,
    texts: Object.fromEntries(
      written.map(([language, { subject, body }]) => [
        language,
        rest.channel === "email" ? { subject: subject ?? "", body } : { body },
      ]),
    ),
    ...(attachments?.length && { attachments }),
  };
}

/** A template as it would be filled in for a lead, with what is wrong in it. */
export function tryTemplate(
  desk: Desk,
  me: Person,
  { template: sent, language, leadId }: z.infer<typeof TryTemplate>,
): wire.TriedTemplate {
  const { setup } = desk;
  const template = plainTemplate(sent);
  const faults = faultsOf(template, setup).map(({ path, fault }) => ({ path, ...fault }));
  const known = leadId ? desk.looker.lead(leadId) : null;
  const lead = known ?? sampleLead(setup, setup.sources[0]!, desk.clock.now());
  const nothing = { lead: lead.name ?? "Somebody", faults, subject: null, body: null, html: null };
  const text = textIn(template.texts, language, setup.policies.company);
  if (!text || faults.length > 0) return nothing;
  const one = { ...template, texts: { [language]: text } };
  const { subject, body } = renderTemplate(one, setup, { ...lead, facts: { ...lead.facts, language } }, me);
  const { name, logo } = setup.policies.company;
  const whole = body.replaceAll(BOOKING, () => desk.links.booking(lead.id));
  const html =
    template.channel === "email"
      ? letterHtml({
          company: name,
          body: whole,
          unsubscribeUrl: null,
          because: null,
          // Beside the letter it is shown in a frame that fetches nothing from elsewhere.
          logo: logo ? desk.links.page(`/logo/${logo.fileId}`) : null,
        })
      : null;
  return { ...nothing, subject, body: whole, html };
}

/** A call as the bar shows it. */
export function toCall(desk: Desk, call: OpenCall): wire.OpenCall {
  const { setup, looker } = desk;
  const lead = looker.lead(looker.survivor(call.leadId));
  const likely = call.ended && likelyOutcome(setup.policies.outcomes, call.ended.result, call.ended.seconds);
  return {
    id: call.id,
    leadId: lead?.id ?? call.leadId,
    name: lead && called(lead),
    phone: readablePhone(call.toAddress),
    pinned: lead?.pinned ?? null,
    there: lead?.facts.zone ?? null,
    state: call.state === "done" ? "ended" : call.state,
    talkedFrom: call.talkedFrom === null ? null : iso(call.talkedFrom),
    seconds: call.ended?.seconds ?? 0,
    result: call.ended?.result ?? null,
    likely: likely?.key ?? null,
    notes: call.notes,
  };
}

export function toAlerts(setup: Setup, now: number): wire.AlertsSetup {
  const { policies, people } = setup;
  const [source] = setup.sources;
  const lead = source && sampleLead(setup, source, now);
  return {
    events: (Object.entries(ALERTS) as [AlertAbout, string][]).map(([about, name]) => ({
      about,
      name,
      urgent: URGENT.has(about),
    })),
    usual: mutable(policies.alerts),
    words: mutable(policies.alertWords),
    usualWords: Object.fromEntries(
      Object.entries(HEADINGS).map(([about, heading]) => [about, lead ? heading(lead, setup) : ""]),
    ),
    fields: mergeFields(setup).map((field) => ({ ...field })),
    people: people.map(({ id, name, role, alerts = {} }) => ({ id, name, role, own: mutable(alerts) })),
  };
}

export function toCalls({ policies: { outcomes, booking } }: Setup): wire.CallsSetup {
  return mutable({ outcomes, booking });
}
