import type { Condition } from "../condition/tree.ts";

/** What a touch can do. `list` puts the lead on the manager's list; `if` only asks, and sends it another way. */
export const TOUCH_KINDS = [
  "email",
  "text",
  "call",
  "task",
  "alert",
  "tag",
  "route",
  "list",
  "park",
  "close",
  "if",
] as const;
export type TouchKind = (typeof TOUCH_KINDS)[number];

/** Who does what a touch asks for, or hears of it. */
export type TouchFor =
  | { readonly owner: true }
  | { readonly person: string }
  | { readonly role: "coordinator" | "salesperson" | "manager" | "administrator" }
  | { readonly group: string };

/** When a touch falls due. */
export interface TouchTime {
  /** ISO 8601 duration: `PT5M`, `P4D`, `P1M`; of a date field it may be negative, `-P7D` is a week before it. */
  readonly after: string;
  readonly from: "start" | "before" | "field";
  /** Of `field`: a date of the lead's own, or when they became a customer. */
  readonly field?: `own.${string}` | "customer-since" | undefined;
  /** Of `field`: every year again. On 29 February it is 28 February in years without one. */
  readonly yearly?: boolean | undefined;
  /** Wall time `HH:MM`. With `until` it is the beginning of a window. */
  readonly at?: string | undefined;
  readonly until?: string | undefined;
  /** On whose wall; the desk's when left out. */
  readonly zone?: "lead" | "desk" | undefined;
  /** On which days; any when left out. `desk`: on which the desk opens, so never on its holidays. */
  readonly days?: "any" | "weekdays" | "desk" | undefined;
  /** Which days count: all of them, then rolled forward to one that is allowed; or only those that are allowed. */
  readonly count?: "all-days" | "allowed-days" | undefined;
}

/** One step of a cadence. */
export interface Touch extends TouchTime {
  readonly kind: TouchKind;
  /** Of a message: a template, or words written here (`subject`, `body`, with merge fields). */
  readonly templateId?: string | undefined;
  readonly subject?: string | undefined;
  readonly body?: string | undefined;
  /** Of a call, task or alert what it says; of `tag` the tag, of `list`, `park` and `close` the reason. */
  readonly note?: string | undefined;
  /** Of a call: which outcome it expects, for whoever makes it. */
  readonly outcome?: string | undefined;
  /** Of a call: the owner's phone rings at its time, when they are on duty and not talking. */
  readonly ring?: boolean | undefined;
  /** Of a task or alert; the owner when left out. */
  readonly who?: TouchFor | undefined;
  /** Of a call or task: the cadence goes on without waiting until it is done. */
  readonly goesOn?: boolean | undefined;
  /** Of a call or task that is waited for: so many hours at the longest; without an end when left out. */
  readonly waitHours?: number | undefined;
  /** Only when this holds as it falls due. */
  readonly when?: Condition | null | undefined;
  /** Where it goes when `when` does not hold: to that touch, counting from 1; to the next one when left out. */
  readonly otherwise?: number | undefined;
  /** Of parking: into which cadence. */
  readonly planId?: string | undefined;
}

/** What ends a cadence, unless it is left out. A lead that is closed is in none whatever it says. */
export const STOPS = {
  reply: "they write",
  "call-back": "they call",
  reached: "they are reached",
  booked: "they book a call",
  won: "they buy",
  closed: "the lead is closed",
} as const;
export type StopKey = keyof typeof STOPS | `stage:${string}`;

/** How leads get in on their own. */
export interface Entry {
  readonly on: "inquiry" | "outcome" | "tag" | "stage" | "parked" | "won";
  /** Of an outcome its key, of a tag or stage its name. */
  readonly value?: string | undefined;
  /** Of an outcome: at the n-th try in a row that reached nobody. The first when left out. */
  readonly nth?: number | undefined;
  readonly when?: Condition | null | undefined;
}

/** What a cadence is, in one version. */
export interface CadencePlan {
  readonly name: string;
  /** Why leads are in it, in the company's own words; `parked` is for leads nobody works. */
  readonly reason: string;
  readonly touches: readonly Touch[];
  readonly stops: readonly StopKey[];
  readonly enters: readonly Entry[];
  /** Nobody is in it a second time. */
  readonly once?: boolean | undefined;
  /** Minutes over which those who begin together are spread. */
  readonly spreadMinutes: number;
  /** The higher one holds the lower back. */
  readonly precedence: number;
  /** What becomes of a lower one: it pauses, and goes on afterwards, or ends. */
  readonly over?: "pauses" | "ends" | undefined;
  /** So many hours after somebody of ours wrote by hand nothing goes on its own; 0 for none. */
  readonly byHandHours: number;
  /** What becomes of calls and tasks of somebody away: they go to cover with what else waits, or wait for them. */
  readonly away?: "cover" | "waits" | undefined;
  /** After the last touch: from touch `from` (counting from 1) again so many times (null for ever), or into another. */
  readonly then?:
    | {
        readonly again?: { readonly from: number; readonly times: number | null } | undefined;
        readonly cadenceId?: string | undefined;
      }
    | undefined;
}

/** A plan of touches over time, drafted and published like rules. */
export interface Cadence {
  readonly id: string;
  /** Grows with each publishing; 0 while it never was. */
  readonly version: number;
  /** Null while it never was published. */
  readonly live: CadencePlan | null;
  readonly draft: CadencePlan | null;
  /** Nobody gets in any more; who is in goes on. */
  readonly off?: boolean | undefined;
  readonly publishedAt: number | null;
  /** Earlier versions somebody is still in. */
  readonly kept: readonly { readonly version: number; readonly plan: CadencePlan }[];
}

/** What is shown of a cadence: what is live, else what is drafted. */
export const planOf = ({ live, draft }: Cadence): CadencePlan => (live ?? draft)!;

/** The plan of a version; null when it is kept no more. */
export function planOfVersion(cadence: Cadence | undefined, version: number): CadencePlan | null {
  if (!cadence) return null;
  if (cadence.version === version) return cadence.live;
  return cadence.kept.find((k) => k.version === version)?.plan ?? null;
}

/** Whether leads in it are parked ones. */
export const isForParked = ({ reason }: CadencePlan): boolean => reason === "parked";

/** Cadences a lead can be parked into. */
export const forParked = ({ policies }: { readonly policies: { readonly cadences: readonly Cadence[] } }) =>
  policies.cadences.filter((c) => c.live && isForParked(c.live));

const BLANK: Pick<CadencePlan, "stops" | "enters" | "spreadMinutes" | "precedence" | "byHandHours"> = {
  stops: ["reply", "call-back", "reached", "booked", "won", "closed"],
  enters: [],
  spreadMinutes: 0,
  precedence: 10,
  byHandHours: 24,
};

const drafted = (id: string, plan: CadencePlan): Cadence => ({
  id,
  version: 0,
  live: null,
  draft: plan,
  publishedAt: null,
  kept: [],
});

const call = (after: string, more: Partial<Touch> = {}): Touch => ({
  kind: "call",
  after,
  from: "before",
  days: "desk",
  note: "Call again",
  waitHours: 24,
  ...more,
});

/**
 * What a company that begins finds as drafts, without templates of its own yet: common practice of the trade. Most who buy
 * are reached after the fifth try, and at another time of day than the first.
 */
export const USUAL_CADENCES: readonly Cadence[] = [
  drafted("cad_not_reached", {
    ...BLANK,
    name: "Not reached",
    reason: "unreached",
    enters: [{ on: "outcome", value: "no-answer" }],
    touches: [
      call("PT3H", { note: "Call again, another time of day" }),
      {
        kind: "text",
        after: "PT10M",
        from: "before",
        body: "Hello {{ lead.first_name }}, we tried to call about your inquiry. When suits you best? {{ company.name }}",
      },
      call("P1D", { at: "09:00" }),
      call("P1D", { at: "17:00" }),
      {
        kind: "email",
        after: "P1D",
        from: "before",
        at: "10:00",
        days: "weekdays",
        subject: "We could not reach you",
        body: "Hello {{ lead.first_name }},\n\nwe have tried to call. Answer this mail with a time that suits you, and we call then.\n\n{{ company.name }}",
      },
      call("P3D", { at: "12:30", note: "Call, leave a voicemail" }),
      call("P3D", { at: "10:30", note: "Call, leave a voicemail" }),
      call("P3D", { at: "16:00", note: "Last call, leave a voicemail" }),
      {
        kind: "close",
        after: "P2D",
        from: "before",
        note: "Never reached",
        when: { field: "reached", is: "equal", value: "no" },
      },
    ],
  }),
  drafted("cad_after_talk", {
    ...BLANK,
    name: "After a talk",
    reason: "after a talk",
    stops: ["reply", "call-back", "booked", "won", "closed"],
    touches: [
      {
        kind: "email",
        after: "P1D",
        from: "start",
        at: "09:30",
        days: "weekdays",
        subject: "Our talk",
        body: "Hello {{ lead.first_name }},\n\nthank you for the talk. Whatever has come up since: answer this mail.\n\n{{ company.name }}",
      },
      call("P3D", { from: "start", note: "Any questions since the talk?" }),
      call("P7D", { from: "start", note: "Where do they stand?" }),
      call("P14D", { from: "start", note: "Decide: go on, park or close" }),
    ],
  }),
  drafted("cad_slow", {
    ...BLANK,
    name: "Slow",
    reason: "parked",
    touches: [
      {
        kind: "email",
        after: "P1M",
        from: "before",
        at: "10:00",
        days: "weekdays",
        subject: "Still here",
        body: "Hello {{ lead.first_name }},\n\nwe are still here when the time comes. Answer this mail whenever it suits.\n\n{{ company.name }}",
      },
      {
        kind: "email",
        after: "P1M",
        from: "before",
        at: "10:00",
        days: "weekdays",
        subject: "Is it time yet?",
        body: "Hello {{ lead.first_name }},\n\nis it time yet? Answer this mail, and somebody calls.\n\n{{ company.name }}",
      },
      {
        kind: "list",
        after: "P1M",
        from: "before",
        at: "09:00",
        days: "desk",
        note: "time for the next look",
      },
    ],
    // biome-ignore lint/suspicious/noThenProperty: the word of the API, and nothing that is waited for
    then: { again: { from: 1, times: null } },
  }),
  drafted("cad_customer", {
    ...BLANK,
    name: "Customer",
    reason: "customer",
    stops: ["closed"],
    enters: [{ on: "won" }],
    touches: [30, 60, 90].map((days) =>
      call(`P${days}D`, {
        from: "start",
        note: `Day ${days}: is everything as it should be?`,
        waitHours: 72,
      }),
    ),
  }),
];
