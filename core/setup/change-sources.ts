import { toEmail } from "../contact/email.ts";
import { toE164 } from "../contact/phone.ts";
import type { Fields } from "../intake/fields.ts";
import { type FactKey, type Mapping, NO_MAPPING } from "../policy/mapping.ts";
import { keyOf, type OwnField, type TagMeaning } from "../policy/own-fields.ts";
import type { Policies, Setup } from "../policy/setup.ts";
import type { AdFormLink, Source, WebForm } from "../policy/source.ts";
import { type Problem, type Refused, refuse } from "../refusal.ts";
import { whatIsMissing } from "../source/missing.ts";
import type { Channel } from "../vocabulary.ts";

/** Changes to what the company has set up. Each gives a whole new setup, or says what stands against it. */
export type Changed = { readonly ok: true; readonly setup: Setup; readonly source: Source } | Refused;

export interface SourceChange {
  readonly name?: string | undefined;
  readonly state?: Source["state"] | undefined;
  readonly line?: string | undefined;
  readonly lineOwnerId?: string | null | undefined;
  readonly lineGroupId?: string | null | undefined;
  readonly mapping?: Mapping | undefined;
  readonly form?: WebForm | undefined;
}

/** A line as it is kept: a number in E.164, or an address. Null when it is neither. */
function readLine(setup: Setup, channel: Channel, written: string): string | null {
  return channel === "call" || channel === "text"
    ? toE164(written, setup.policies.company.country)
    : toEmail(written);
}

function lineProblem(setup: Setup, channel: Channel, written: string, but?: string): Problem | null {
  const line = readLine(setup, channel, written);
  if (!line)
    return refuse(
      "not-a-line",
      422,
      "Not a line",
      `“${written}” is neither a phone number nor a mail address that can be listened on.`,
      "line",
    ).problem;
  const has = (s: Source) => s.line === line || (s.formerLines ?? []).includes(line);
  const other = setup.sources.find((s) => has(s) && s.id !== but && kindred(s.channel, channel));
  return other
    ? refuse("taken", 409, "Taken", `${other.name} listens on ${written} already.`, "line").problem
    : null;
}

/** Whether two channels would listen on the same kind of line. A number may take calls and texts. */
function kindred(a: Channel, b: Channel): boolean {
  return a === b || (["email", "document"].includes(a) && ["email", "document"].includes(b));
}

const BLANK_FORM: WebForm = {
  title: "Ask us",
  intro: "",
  button: "Send",
  thanks: "Thank you. You will hear from us soon.",
  fields: [
    { name: "name", label: "Your name", type: "text", required: true, choices: [] },
    { name: "email", label: "Email", type: "email", required: true, choices: [] },
    { name: "phone", label: "Phone", type: "tel", required: false, choices: [] },
    { name: "message", label: "What would you like to know?", type: "area", required: false, choices: [] },
  ],
};

/** Add a source as a draft. Its first replies are those most sources of the company send. */
export function addSource(
  setup: Setup,
  made: { id: string; name: string; channel: Channel; line?: string | undefined },
): Changed {
  if (made.line) {
    const problem = lineProblem(setup, made.channel, made.line);
    if (problem) return { ok: false, problem };
  }
  const base = keyOf(made.name).replace(/_/g, "-") || "source";
  const taken = (key: string) => setup.sources.some((s) => s.key === key);
  let key = base;
  for (let i = 2; taken(key); i++) key = `${base}-${i}`;
  const usual = setup.sources.find((s) => s.channel === made.channel) ?? setup.sources[0];
  const line = made.line ? readLine(setup, made.channel, made.line) : null;
  const source: Source = {
    id: made.id,
    key,
    name: made.name,
    channel: made.channel,
    state: "draft",
    mapping: NO_MAPPING,
    ...(usual?.reply && { reply: usual.reply }),
    ...(line && { line }),
    ...(made.channel === "website" && { form: BLANK_FORM }),
  };
  return { ok: true, setup: { ...setup, sources: [...setup.sources, source] }, source };
}

/** Change a source. It goes live only when nothing it can't do without is missing. */
export function changeSource(
  setup: Setup,
  id: string,
  change: SourceChange,
  samples: readonly Fields[],
): Changed {
  const source = setup.sources.find((s) => s.id === id || s.key === id);
  if (!source) return refuse("no-such-source", 404, "No such source", "There is no source by that id.");
  const { line, mapping, ...rest } = change;
  if (line) {
    const problem = lineProblem(setup, source.channel, line, source.id);
    if (problem) return { ok: false, problem };
  }
  if (change.lineOwnerId && !setup.people.some((p) => p.id === change.lineOwnerId && !p.left))
    return refuse(
      "nobody-by-that-id",
      422,
      "Nobody by that id",
      "Choose somebody who works here.",
      "lineOwnerId",
    );
  if (change.lineGroupId && !setup.groups.some((g) => g.id === change.lineGroupId))
    return refuse("no-such-group", 422, "No such group", "Choose a group.", "lineGroupId");
  const wrongForm = change.form && formProblem(change.form);
  if (wrongForm) return { ok: false, problem: wrongForm };
  const version = source.mapping.version + 1;
  const next: Source = {
    ...source,
    ...defined(rest),
    ...(line && replaced(source, readLine(setup, source.channel, line)!)),
    ...(mapping && { mapping: { ...mapping, version } }),
  };
  if (change.state === "live" && source.state !== "live") {
    const stops = whatIsMissing(next, setup, samples).filter((l) => l.stops);
    if (stops.length > 0)
      return refuse("not-ready", 409, "Not ready", stops.map((s) => s.said).join(" "), "state");
  }
  return {
    ok: true,
    setup: { ...setup, sources: setup.sources.map((s) => (s.id === source.id ? next : s)) },
    source: next,
  };
}

/** The line it has from now on, with the one before kept among its former ones. */
function replaced(
  { line: before, formerLines = [] }: Source,
  line: string,
): Pick<Source, "line" | "formerLines"> {
  const former = [...formerLines, ...(before ? [before] : [])].filter(
    (l, i, all) => l !== line && all.indexOf(l) === i,
  );
  return { line, ...(former.length > 0 && { formerLines: former }) };
}

function defined<T extends object>(object: T): { [K in keyof T]: Exclude<T[K], undefined> } {
  return Object.fromEntries(Object.entries(object).filter(([, v]) => v !== undefined)) as {
    [K in keyof T]: Exclude<T[K], undefined>;
  };
}

function formProblem(form: WebForm): Problem | null {
  const names = form.fields.map((f) => f.name);
  const twice = names.find((n, i) => names.indexOf(n) !== i);
  if (twice)
    return refuse("asked-twice", 422, "Asked twice", `Two questions are called “${twice}”.`, "form.fields")
      .problem;
  for (const { name, label, choices } of form.fields) {
    const shared = choices.find((c, i) => choices.findIndex((o) => o.value === c.value) !== i);
    if (shared)
      return refuse(
        "chosen-twice",
        422,
        "Chosen twice",
        `“${label || name}” offers “${shared.label}” twice: nobody could tell which was chosen.`,
        "form.fields",
      ).problem;
  }
  const bare = form.fields.find((f) => f.type === "choice" && f.choices.length === 0);
  if (bare)
    return refuse(
      "nothing-to-choose",
      422,
      "Nothing to choose",
      `“${bare.label}” offers no choices.`,
      "form.fields",
    ).problem;
  return null;
}

/** Connect a form of the ad platform: its own source, mapped by name as far as names tell. */
export function connectAdForm(
  setup: Setup,
  made: { id: string; adForm: AdFormLink; secret: string; mapping: Mapping["fields"] },
): Changed {
  const { adForm, secret } = made;
  const known = setup.sources.find((s) => s.adForm?.formId === adForm.formId);
  if (known)
    return refuse(
      "connected-already",
      409,
      "Connected already",
      `${known.name} is connected to this form.`,
      "formId",
    );
  const added = addSource(setup, { id: made.id, name: `Ad: ${adForm.formName}`, channel: "ad-form" });
  if (!added.ok) return added;
  const source: Source = {
    ...added.source,
    adForm,
    signingSecret: secret,
    mapping: { ...NO_MAPPING, fields: made.mapping, tags: ["ad"] },
  };
  return { ok: true, setup: { ...setup, sources: [...setup.sources, source] }, source };
}

export interface FieldsSetup {
  readonly fields: readonly OwnField[];
  readonly tags: readonly TagMeaning[];
  readonly completeness: Policies["completeness"];
}

/** Put the company's own fields, tags and weights in force. A field in use by a mapping can't vanish unseen. */
export function changeFields(
  setup: Setup,
  next: FieldsSetup,
): { readonly ok: true; readonly setup: Setup } | Refused {
  const keys = next.fields.map((f) => f.key);
  const twice = keys.find((k, i) => keys.indexOf(k) !== i);
  if (twice)
    return refuse("there-twice", 422, "There twice", `Two fields have the key “${twice}”.`, "fields");
  const bare = next.fields.find((f) => ["choice", "choices"].includes(f.type) && f.choices.length === 0);
  if (bare)
    return refuse(
      "nothing-to-choose",
      422,
      "Nothing to choose",
      `“${bare.name}” offers no choices.`,
      "fields",
    );
  const isThere = (fact: FactKey | "territory" | "answer") =>
    !fact.startsWith("own.") || keys.includes(fact.slice(4));
  for (const source of setup.sources) {
    const [field] = Object.entries(source.mapping.fields).find(([, m]) => !isThere(m.to)) ?? [];
    if (field)
      return refuse(
        "in-use",
        409,
        "In use",
        `${source.name} maps “${field}” to a field you have taken away. Map it elsewhere first.`,
        "fields",
      );
  }
  const tags = next.tags.map((t) => ({ ...t, name: t.name.toLowerCase() }));
  const completeness = next.completeness.filter((c) => isThere(c.fact));
  return {
    ok: true,
    setup: { ...setup, policies: { ...setup.policies, fields: next.fields, tags, completeness } },
  };
}
