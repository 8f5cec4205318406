import type { Cadence, CadencePlan, Touch } from "../core/policy/cadence.ts";

/** The cadences of the made-up company, all in force. */

const SINCE = Date.parse("2025-12-01T09:00:00-07:00");

const live = (id: string, plan: CadencePlan): Cadence => ({
  id,
  version: 1,
  live: plan,
  draft: null,
  publishedAt: SINCE,
  kept: [],
});

const USUAL: Pick<CadencePlan, "stops" | "enters" | "spreadMinutes" | "precedence" | "byHandHours"> = {
  stops: ["reply", "call-back", "reached", "booked", "won", "closed"],
  enters: [],
  spreadMinutes: 0,
  precedence: 10,
  byHandHours: 24,
};

const call = (after: string, note: string, more: Partial<Touch> = {}): Touch => ({
  kind: "call",
  after,
  from: "before",
  days: "desk",
  note,
  outcome: "reached",
  ...more,
});

const letter = (days: number): Touch => ({
  kind: "email",
  after: `P${days}D`,
  from: "start",
  at: "10:00",
  templateId: "season",
});

export const cadences: readonly Cadence[] = [
  live("cad_not_reached", {
    ...USUAL,
    name: "Not reached",
    reason: "unreached",
    enters: [{ on: "outcome", value: "no-answer" }],
    touches: [
      call("PT3H", "Call again"),
      call("P1D", "Call in the morning", { at: "09:00" }),
      {
        kind: "text",
        after: "PT20M",
        from: "before",
        body: "Hello {{ lead.first_name | default: 'there' }}, {{ company.name }} here. We tried to call about your sauna. When suits you best?",
      },
      call("P1D", "Call before they close", { at: "17:00" }),
      {
        kind: "email",
        after: "P1D",
        from: "before",
        at: "09:30",
        zone: "lead",
        days: "weekdays",
        subject: "We keep missing you",
        body: "Hello {{ lead.first_name | default: 'there' }},\n\nwe have called a few times and keep missing you. Answer this mail with a time that suits you, and {{ owner.first_name | default: 'one of us' }} calls then.\n\n{{ company.name }}",
      },
      call("P1D", "Call, leave a voicemail", { at: "12:30", days: "weekdays" }),
      call("P3D", "Last call, leave a voicemail", { at: "10:30", days: "weekdays" }),
      { kind: "close", after: "P2D", from: "before", days: "desk", note: "Never reached" },
    ],
  }),
  live("cad_after_talk", {
    ...USUAL,
    name: "After a talk",
    reason: "after a talk",
    stops: ["reply", "call-back", "booked", "won", "closed"],
    precedence: 20,
    spreadMinutes: 30,
    touches: [
      {
        kind: "email",
        after: "P1D",
        from: "start",
        at: "09:00",
        until: "11:00",
        zone: "lead",
        days: "weekdays",
        templateId: "site-and-power",
      },
      call("P3D", "Any questions since the talk?", { from: "start" }),
      call("P7D", "Where do they stand?", { from: "start" }),
      {
        kind: "if",
        after: "PT0M",
        from: "before",
        when: { field: "value", is: "at-least", value: 10000 },
        otherwise: 6,
      },
      {
        kind: "task",
        after: "P1D",
        from: "before",
        days: "desk",
        who: { role: "manager" },
        note: "Look at a big one that has not decided",
        goesOn: true,
      },
      call("P14D", "Decide: go on, park or close", { from: "start" }),
    ],
  }),
  live("cad_lodge", {
    ...USUAL,
    name: "Lodge brochure",
    reason: "asked for the brochure",
    precedence: 5,
    enters: [{ on: "inquiry", when: { field: "source", is: "equal", value: "ad-lodge" } }],
    once: true,
    spreadMinutes: 60,
    touches: [
      {
        kind: "email",
        after: "P2D",
        from: "start",
        at: "09:00",
        zone: "lead",
        days: "weekdays",
        templateId: "site-and-power",
      },
      {
        kind: "email",
        after: "P12D",
        from: "start",
        at: "09:00",
        zone: "lead",
        days: "weekdays",
        templateId: "season",
      },
    ],
  }),
  live("cad_customer", {
    ...USUAL,
    name: "Customer",
    reason: "customer",
    stops: ["closed"],
    enters: [{ on: "won" }],
    touches: [
      {
        kind: "task",
        after: "PT0M",
        from: "start",
        days: "desk",
        who: { role: "coordinator" },
        note: "Process the order",
        goesOn: true,
      },
      {
        kind: "task",
        after: "PT0M",
        from: "start",
        days: "desk",
        who: { person: "p_tomasz" },
        note: "Book the delivery",
        goesOn: true,
      },
      ...[30, 60, 90].map((days) =>
        call(`P${days}D`, `Day ${days}: is everything as it should be?`, { from: "start", waitHours: 72 }),
      ),
    ],
  }),
  live("sp_seasons", {
    ...USUAL,
    name: "A letter each season",
    reason: "parked",
    stops: [],
    byHandHours: 0,
    touches: [
      ...[28, 56, 84, 112].map(letter),
      {
        kind: "list",
        after: "P120D",
        from: "start",
        at: "09:00",
        days: "weekdays",
        note: "time for the next look",
      },
    ],
  }),
  live("sp_quarter", {
    ...USUAL,
    name: "A look in three months",
    reason: "parked",
    stops: [],
    byHandHours: 0,
    touches: [
      {
        kind: "list",
        after: "P90D",
        from: "start",
        at: "09:00",
        days: "weekdays",
        note: "time for the next look",
      },
    ],
  }),
];
