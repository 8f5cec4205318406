import { HEADINGS } from "../message/cards.ts";
import { checkTemplate, type TemplateFault } from "../message/template.ts";
import { ALERTS, URGENT } from "../policy/alerts.ts";
import type { Replies, ReplyPolicy, Restraint, Template } from "../policy/answering.ts";
import { planOf } from "../policy/cadence.ts";
import { usualLanguage } from "../policy/company.ts";
import { type Setup, valueNames } from "../policy/setup.ts";
import { type Refused, refuse } from "../refusal.ts";
import type { AlertWay } from "../vocabulary.ts";

export type Changed = { readonly ok: true; readonly setup: Setup } | Refused;

const withPolicies = (setup: Setup, change: Partial<Setup["policies"]>): Changed => ({
  ok: true,
  setup: { ...setup, policies: { ...setup.policies, ...change } },
});

/** Faults of every text of a template, by `texts.en.body` and the like. */
export function faultsOf(template: Template, setup: Setup): { path: string; fault: TemplateFault }[] {
  return Object.entries(template.texts).flatMap(([language, { subject, body }]) =>
    (
      [
        ["subject", subject ?? ""],
        ["body", body],
      ] as const
    ).flatMap(([part, written]) =>
      checkTemplate(written, setup).map((fault) => ({ path: `texts.${language}.${part}`, fault })),
    ),
  );
}

/** Save a template under its id, new or known. It must be sound in every language, and have an English text. */
export function saveTemplate(setup: Setup, template: Template): Changed {
  const name = template.name.trim();
  if (!name)
    return refuse(
      "it-needs-a-name",
      422,
      "It needs a name",
      "Give the template a name to find it by.",
      "name",
    );
  const { templates } = setup.policies;
  if (templates.some((t) => t.id !== template.id && t.name.toLowerCase() === name.toLowerCase()))
    return refuse(
      "the-name-is-taken",
      422,
      "The name is taken",
      `There is a template “${name}” already. Choose another name.`,
      "name",
    );
  const usual = usualLanguage(setup.policies.company);
  if (!template.texts[usual]?.body.trim()) {
    const language = valueNames.language(usual);
    return refuse(
      "no-usual-text",
      422,
      `No ${language} text`,
      `${language} is what other languages fall back to. Write it first.`,
      `texts.${usual}.body`,
    );
  }
  const [wrong] = faultsOf(template, setup);
  if (wrong) {
    const { message, line, column } = wrong.fault;
    return refuse(
      "it-cant-be-filled-in",
      422,
      "It can’t be filled in",
      `${message} (line ${line}, column ${column})`,
      wrong.path,
    );
  }
  const saved = { ...template, name };
  const known = templates.some((t) => t.id === template.id);
  return withPolicies(setup, {
    templates: known ? templates.map((t) => (t.id === template.id ? saved : t)) : [...templates, saved],
  });
}

/** Where a template is used, in words. */
export function usesOf(setup: Setup, templateId: string): readonly string[] {
  const { replies } = setup.policies;
  const inPolicy = (policy: ReplyPolicy, whose: string) =>
    (["email", "text"] as const)
      .filter((channel) => policy[channel].choices.some((c) => c.templateId === templateId))
      .map((channel) => `first reply by ${channel}, ${whose}`);
  return [
    ...inPolicy(replies.usual, "all sources"),
    ...setup.sources.flatMap((s) => (s.reply ? inPolicy(s.reply, s.name) : [])),
    ...setup.policies.cadences
      .filter((c) =>
        [c.live, c.draft, ...c.kept.map((k) => k.plan)].some((plan) =>
          plan?.touches.some((t) => t.templateId === templateId),
        ),
      )
      .map((c) => `the cadence “${planOf(c).name}”`),
    ...(replies.again.email === templateId ? ["answer to a repeat by email"] : []),
    ...(replies.again.text === templateId ? ["answer to a repeat by text"] : []),
  ];
}

/** Remove a template that nothing uses. */
export function removeTemplate(setup: Setup, templateId: string): Changed {
  const { templates } = setup.policies;
  if (!templates.some((t) => t.id === templateId))
    return refuse("no-such-template", 404, "No such template", "There is no template with that id.");
  const uses = usesOf(setup, templateId);
  if (uses.length > 0)
    return refuse("it-is-in-use", 409, "It is in use", `Take it out of these first: ${uses.join("; ")}.`);
  return withPolicies(setup, { templates: templates.filter((t) => t.id !== templateId) });
}

/** What is wrong in a reply policy, with its path; null when it can be used. */
function replyProblem(setup: Setup, policy: ReplyPolicy, path: string): Refused | null {
  for (const channel of ["email", "text"] as const) {
    const way = policy[channel];
    for (const [i, { templateId }] of way.choices.entries()) {
      const template = setup.policies.templates.find((t) => t.id === templateId);
      const at = `${path}.${channel}.choices.${i}`;
      if (!template)
        return refuse("no-such-template", 422, "No such template", "Choose one of the templates.", at);
      if (template.channel !== channel)
        return refuse(
          "the-wrong-channel",
          422,
          "The wrong channel",
          `“${template.name}” is for ${template.channel}.`,
          at,
        );
    }
    if (way.on && way.choices.length === 0)
      return refuse(
        "no-template-chosen",
        422,
        "No template chosen",
        `Choose what is sent by ${channel}, or switch it off.`,
        `${path}.${channel}`,
      );
  }
  return null;
}

export interface RepliesChange {
  readonly usual: ReplyPolicy;
  readonly again: Replies["again"];
  /** By source id; null goes back to the usual one. */
  readonly sources: Readonly<Record<string, ReplyPolicy | null>>;
}

/** Change how sources answer on their own. */
export function changeReplies(setup: Setup, change: RepliesChange): Changed {
  const wrong =
    replyProblem(setup, change.usual, "usual") ??
    Object.entries(change.sources)
      .map(([id, policy]) => policy && replyProblem(setup, policy, `sources.${id}`))
      .find((p) => p);
  if (wrong) return wrong;
  for (const channel of ["email", "text"] as const) {
    const id = change.again[channel];
    const template = setup.policies.templates.find((t) => t.id === id);
    if (id && template?.channel !== channel)
      return refuse(
        "no-such-template",
        422,
        "No such template",
        `Choose a template for ${channel}.`,
        `again.${channel}`,
      );
  }
  const sources = setup.sources.map((source) => {
    if (!(source.id in change.sources)) return source;
    const { reply: _, ...rest } = source;
    const reply = change.sources[source.id];
    return reply ? { ...rest, reply } : rest;
  });
  const replies = { usual: change.usual, again: change.again };
  return { ok: true, setup: { ...setup, sources, policies: { ...setup.policies, replies } } };
}

/** Change what keeps automatic messages within bounds. */
export function changeRestraint(setup: Setup, restraint: Restraint): Changed {
  const { allowed, words, answers } = restraint;
  if (allowed.from >= allowed.to)
    return refuse(
      "hours-the-wrong-way-round",
      422,
      "Hours the wrong way round",
      "The first hour must come before the last.",
      "allowed.to",
    );
  if (words.stop.length === 0)
    return refuse(
      "no-word-to-stop-by",
      422,
      "No word to stop by",
      "Keep STOP at least: people must have a way out.",
      "words.stop",
    );
  for (const [word, texts] of Object.entries(answers))
    for (const [language, written] of Object.entries(texts)) {
      const [fault] = checkTemplate(written, setup);
      if (fault)
        return refuse(
          "it-cant-be-filled-in",
          422,
          "It can’t be filled in",
          fault.message,
          `answers.${word}.${language}`,
        );
    }
  return withPolicies(setup, { restraint });
}

/** So long the first line of an alert may be (characters): it is read on a phone in passing. */
const LONGEST_ALERT = 300;

/** Change what alerts say; an empty one says the usual again. */
export function changeAlertWords(setup: Setup, words: Readonly<Record<string, string>>): Changed {
  const own: Record<string, string> = {};
  for (const [about, text] of Object.entries(words)) {
    const path = `words.${about}`;
    if (!(about in HEADINGS))
      return refuse("no-such-alert", 422, "No such alert", `“${about}” is no alert about a lead.`, path);
    if (text.length > LONGEST_ALERT)
      return refuse(
        "too-long",
        422,
        "Too long",
        `An alert’s first line has ${LONGEST_ALERT} characters at most.`,
        path,
      );
    const [fault] = checkTemplate(text, setup);
    if (fault) return refuse("it-cant-be-filled-in", 422, "It can’t be filled in", fault.message, path);
    if (text.trim()) own[about] = text.trim();
  }
  return withPolicies(setup, { alertWords: own });
}

/** Change by which ways somebody hears of things; the company's own way when `personId` is null. */
export function changeAlerts(
  setup: Setup,
  personId: string | null,
  matrix: Readonly<Record<string, readonly AlertWay[]>>,
): Changed {
  const unknown = Object.keys(matrix).find((about) => !(about in ALERTS));
  if (unknown)
    return refuse(
      "no-such-alert",
      422,
      "No such alert",
      `“${unknown}” is nothing one can be told of.`,
      `matrix.${unknown}`,
    );
  if (personId === null) {
    // A lead that is offered, or rings, must reach somebody.
    const dumb = [...URGENT].find((about) => !matrix[about]?.some((way) => way !== "browser"));
    if (dumb)
      return refuse(
        "somebody-must-hear-of-it",
        422,
        "Somebody must hear of it",
        `“${ALERTS[dumb]}” needs chat, text or email: a browser may be closed.`,
        `matrix.${dumb}`,
      );
    return withPolicies(setup, { alerts: matrix });
  }
  if (!setup.people.some((p) => p.id === personId))
    return refuse(
      "nobody-by-that-id",
      404,
      "Nobody by that id",
      "`personId` names nobody who works here.",
      "personId",
    );
  const people = setup.people.map((p) => (p.id === personId ? { ...p, alerts: matrix } : p));
  return { ok: true, setup: { ...setup, people } };
}

const keyFrom = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");

/**
 * Change what outcomes mean and how calls are booked. A new outcome has an empty key and gets one from its name; the
 * outcome of a message written by hand stays, since every message sets it.
 */
export function changeCalls(
  setup: Setup,
  { outcomes, booking }: Pick<Setup["policies"], "outcomes" | "booking">,
): Changed {
  const named = outcomes.map((o) => ({ ...o, name: o.name.trim(), key: o.key || keyFrom(o.name) }));
  for (const [i, { key, name }] of named.entries()) {
    if (!name || !key)
      return refuse(
        "it-needs-a-name",
        422,
        "It needs a name",
        "Give every outcome a name.",
        `outcomes.${i}.name`,
      );
    if (named.findIndex((o) => o.key === key) !== i)
      return refuse(
        "the-name-is-taken",
        422,
        "The name is taken",
        `Two outcomes are called “${name}”.`,
        `outcomes.${i}.name`,
      );
  }
  if (!named.some((o) => o.key === "sent"))
    return refuse(
      "still-needed",
      409,
      "Still needed",
      "“Sent” is what every message by hand sets. Rename it, but keep it.",
      "outcomes",
    );
  if (!named.some((o) => o.reached))
    return refuse(
      "nobody-is-ever-reached",
      422,
      "Nobody is ever reached",
      "One outcome at least must mean that they were reached.",
      "outcomes",
    );
  const gone = booking.people.find((id) => !setup.people.some((p) => p.id === id));
  if (gone)
    return refuse(
      "nobody-by-that-id",
      422,
      "Nobody by that id",
      `“${gone}” names nobody who works here.`,
      "booking.people",
    );
  return withPolicies(setup, { outcomes: named, booking });
}
