import type { BookEvent } from "../book/events.ts";
import type { Trace } from "../lead/event.ts";
import type { LeadEvent } from "../lead/events.ts";
import type { Setup } from "../policy/setup.ts";

/**
 * Taking out of what happened everything that tells whom it happened to. What is left is how the desk ran it: when, by
 * whom of ours, where from, what came of it. A text stays only where it is known to be the desk's own; a key nobody
 * has thought of loses its text, and a test asks of every key of the record which of the two it is.
 */

/** Under these keys stand the desk's own texts: kinds and states, names of what the company has set up, numbers of its own. */
const OURS = new Set([
  ...["kind", "state", "act", "did", "how", "why", "channel", "purpose", "result", "bell", "signal", "does"],
  ...[
    "match",
    "word",
    "answer",
    "clock",
    "about",
    "type",
    "currency",
    "key",
    "number",
    "askedBy",
    "coversFor",
  ],
  ...["outcome", "outcomeName", "template", "ruleName", "target", "ladder", "taxName", "terms", "stage"],
  ...[
    "product",
    "territory",
    "zone",
    "language",
    "preferred",
    "forbidden",
    "lastWay",
    "mentions",
    "expectedOn",
  ],
  ...["id", "ids", "refused"],
]);

/** Texts that are kept where the company has set them up in so many words, and lost where somebody wrote them. */
const WORDS = new Set([
  ...["reason", "by", "to", "from", "line", "because", "what", "skipped", "tag", "tags", "on", "off", "hook"],
]);

/** Lists and tables of the lead's own: gone whole. */
const LISTS = new Set([
  "emails",
  "phones",
  "attachments",
  "related",
  "unread",
  "shared",
  "files",
  "consents",
]);
const TABLES = new Set(["own", "kinds", "theirs"]);
/** What is kept of the answers to a form: how they came, never what they said. */
const CAMPAIGN = /^utm_(source|medium|campaign)$/;

/** What is null where there is nothing, and not empty. */
const NULLS = new Set([
  ...[
    "message",
    "company",
    "contact",
    "deal",
    "postalCode",
    "address",
    "detail",
    "subject",
    "pinned",
    "recording",
  ],
  ...["file", "words"],
]);

/** Kinds of event whose ends are stages or people of ours, also such as are no more. */
const MOVES: ReadonlySet<string> = new Set([
  "staged",
  "moved",
  "given",
  "offered",
  "nudged",
  "credited",
  "climbed",
]);

/** What the company has decided in so many words: every text of its set-up. */
export function companyWords(setup: Setup): ReadonlySet<string> {
  const words = new Set<string>();
  const walk = (value: unknown): void => {
    if (typeof value === "string") words.add(value);
    else if (value && typeof value === "object") {
      for (const key of Array.isArray(value) ? [] : Object.keys(value)) words.add(key);
      for (const one of Object.values(value)) walk(one);
    }
  };
  walk(setup);
  return words;
}

type Fields = Readonly<Record<string, unknown>>;

/** Reasons the desk itself gives, which no set-up names. */
const DESK_WORDS: ReadonlySet<string> = new Set([
  "Joined to another lead",
  "Handed over",
  "Never reached",
  "Kept from a list",
]);

class Eraser {
  readonly #words: ReadonlySet<string>;
  readonly #isMove: boolean;

  constructor(words: ReadonlySet<string>, kind: string) {
    this.#words = words;
    this.#isMove = MOVES.has(kind);
  }

  #isTheirsToSay(word: string): boolean {
    return this.#words.has(word) || DESK_WORDS.has(word);
  }

  /** A name is the company's where it names a plan, a sheet or a line of one; nobody need have one of their own. */
  #name(of: Fields, value: string): string | null {
    if ("cadenceId" in of || "worksheetId" in of || "key" in of) return value;
    return "answer" in of || "at" in of ? "" : null;
  }

  #text(key: string, value: string, of: Fields): string | null {
    if (key === "name") return this.#name(of, value);
    // An id of ours never looks like an address; a mail's own does.
    if (/Ids?$/.test(key) && key !== "callId") return /[@<\s]/.test(value) ? "" : value;
    if (OURS.has(key)) return value;
    if (this.#isMove && (key === "to" || key === "from")) return value;
    if (WORDS.has(key) && this.#isTheirsToSay(value)) return value;
    // What was entered for a price: a number says nothing of anybody.
    if (key === "value" && /^-?[\d.]+$/.test(value)) return value;
    return NULLS.has(key) ? null : "";
  }

  value(key: string, value: unknown, of: Fields): unknown {
    if (typeof value === "string") return this.#text(key, value, of);
    if (LISTS.has(key) && Array.isArray(value)) return [];
    if (Array.isArray(value)) {
      const all = value.map((one) => this.value(key, one, of));
      return key === "tags" || key === "on" || key === "off" ? all.filter((tag) => tag !== "") : all;
    }
    if (!value || typeof value !== "object") return value;
    if (TABLES.has(key)) return {};
    if (key === "answers")
      return Object.fromEntries(Object.entries(value).filter(([question]) => CAMPAIGN.test(question)));
    if (key === "recording" || key === "file") return null;
    return this.fields(value as Fields);
  }

  fields(of: Fields): Fields {
    return Object.fromEntries(Object.entries(of).map(([key, value]) => [key, this.value(key, value, of)]));
  }
}

/** What a decision was thought through by, without what it said of them. */
const traceOf = (why: Trace): Trace => ({
  ...why,
  outcome: "",
  steps: why.steps.map((step) => ({
    ...step,
    name: step.kind === "match" || step.kind === "aside" ? "" : step.name,
    reason: "",
  })),
});

/**
 * The same event, naming nobody. It folds as before, and figures told of it are the same; never throws.
 * `words` are the company's own ({@link companyWords}).
 */
export function erased(event: LeadEvent, words: ReadonlySet<string>): LeadEvent {
  const data =
    event.kind === "shared"
      ? { value: "", shared: false }
      : new Eraser(words, event.kind).fields(event.data as Fields);
  return { ...event, data, ...(event.why && { why: traceOf(event.why) }) } as LeadEvent;
}

/** What a contact is called that was erased. */
export const ERASED_CONTACT = "Erased person";

/** The same event of a contact in the book, naming nobody. */
export function erasedContact(event: BookEvent, words: ReadonlySet<string>): BookEvent {
  const data = new Eraser(words, event.kind).fields(event.data as Fields);
  const named = (fields: unknown): unknown =>
    fields && typeof fields === "object" && "name" in fields ? { ...fields, name: ERASED_CONTACT } : fields;
  // A record always has a name, and says whose lead it came from by it.
  const whole = Object.fromEntries(
    Object.entries(data).map(([key, value]) => [
      key,
      key === "fields" || key === "other" ? named(value) : value,
    ]),
  );
  return {
    ...event,
    data: "name" in whole && whole.name === null ? { ...whole, name: "" } : whole,
  } as BookEvent;
}

/** Every key under which a text stands in what an event carries, with whether it is known what becomes of it. For tests. */
export function isKnownKey(key: string): boolean {
  return (
    /Ids?$/.test(key) ||
    [OURS, WORDS, LISTS, TABLES, NULLS].some((keys) => keys.has(key)) ||
    KNOWN_TO_GO.has(key)
  );
}

/** Keys whose texts are somebody's, and go. */
const KNOWN_TO_GO = new Set([
  ...[
    "name",
    "note",
    "text",
    "body",
    "quoted",
    "html",
    "said",
    "question",
    "url",
    "value",
    "found",
    "robot",
    "?",
  ],
  ...["answers", "toAddress", "comment"],
]);
