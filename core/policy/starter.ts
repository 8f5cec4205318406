import type { Hours } from "../time/calendar.ts";
import type { ReplyWay } from "./answering.ts";
import { USUAL_BACKUPS } from "./backups.ts";
import { USUAL_CADENCES } from "./cadence.ts";
import type { OutcomePolicy } from "./calls.ts";
import { GIVE_REASONS } from "./defaults.ts";
import { USUAL_LETTER } from "./letter.ts";
import { NO_MAPPING } from "./mapping.ts";
import { OPT_ANSWERS } from "./opt-answers.ts";
import type { Person } from "./people.ts";
import { USUAL_PRIVACY } from "./privacy.ts";
import type { Policies, Setup } from "./setup.ts";
import { DEAL_REASONS, DEAL_STAGES, LEAD_REASONS, LEAD_STAGES } from "./stages.ts";
import { PLAIN_LAYOUT } from "./worksheet.ts";

/** What a new desk begins with. Everything here can be changed in Set-up. */

const outcomes: readonly OutcomePolicy[] = [
  {
    key: "reached",
    name: "Reached",
    reached: true,
    next: { kind: "call", days: 2, skipWeekend: true, note: "Follow up" },
  },
  {
    key: "voicemail",
    name: "Voicemail",
    reached: false,
    next: { kind: "call", days: 3, skipWeekend: true, note: "Call again" },
  },
  {
    key: "no-answer",
    name: "No answer",
    reached: false,
    next: {
      kind: "call",
      hours: 3,
      note: "Call again",
    },
  },
  { key: "busy", name: "Busy", reached: false, next: { kind: "call", hours: 1, note: "Call again" } },
  {
    key: "call-me-at",
    name: "Asked to be called later",
    reached: true,
    next: { kind: "call", days: 1, note: "Call as asked" },
  },
  {
    key: "wrong-number",
    name: "Wrong number",
    reached: false,
    next: { kind: "email", hours: 1, note: "Ask for the right number" },
  },
  {
    key: "sent",
    name: "Sent",
    reached: false,
    next: { kind: "call", days: 1, skipWeekend: true, note: "Call if no answer" },
  },
];

/** Policies that hold for most companies: common practice of the trade, and no company's own. */
export const USUAL = {
  targets: [
    {
      id: "t_five",
      name: "A call within five minutes",
      when: null,
      minutes: 5,
      clock: "desk",
      ladderId: "l_default",
    },
    {
      id: "t_reply",
      name: "Answered within fifteen minutes",
      about: "reply",
      when: null,
      minutes: 15,
      clock: "desk",
      ladderId: "l_reply",
    },
    {
      id: "t_untried",
      name: "First try within two hours of having it",
      about: "untried",
      when: null,
      minutes: 120,
      clock: "desk",
      ladderId: "l_quiet",
    },
    {
      id: "t_promise",
      name: "A promise is kept by its time",
      about: "promise",
      when: null,
      minutes: 0,
      clock: "desk",
      ladderId: "l_reply",
    },
    {
      id: "t_overdue",
      name: "A next step is done within four hours",
      about: "overdue",
      when: null,
      minutes: 240,
      clock: "desk",
      ladderId: "l_quiet",
    },
    {
      id: "t_stalled",
      name: "Never ten days without a try before the planned number",
      about: "stalled",
      when: null,
      minutes: 14_400,
      clock: "wall",
      ladderId: "l_quiet",
    },
    {
      id: "t_aimless",
      name: "A next step within half a day",
      about: "aimless",
      when: null,
      minutes: 300,
      clock: "desk",
      ladderId: "l_quiet",
    },
  ],
  ladders: [
    {
      id: "l_default",
      name: "Nudge, tell the manager, standby",
      rungs: [
        { fraction: 0.6, plusMinutes: 0, act: "nudge" },
        { fraction: 1, plusMinutes: 0, act: "manager" },
        { fraction: 1, plusMinutes: 10, act: "standby" },
      ],
    },
    {
      id: "l_reply",
      name: "Nudge, then tell the manager",
      rungs: [
        { fraction: 1, plusMinutes: 0, act: "nudge" },
        { fraction: 1, plusMinutes: 30, act: "manager" },
      ],
    },
    {
      id: "l_quiet",
      name: "Nudge as it rings",
      rungs: [{ fraction: 1, plusMinutes: 0, act: "nudge" }],
    },
  ],
  late: { graceMinutes: 10, skip: ["nudge"] },
  counts: ["call", "text", "email", "visit"],
  holidays: null,
  cadences: USUAL_CADENCES,
  wakes: [
    {
      id: "w_back",
      name: "Whoever writes, calls or asks again is routed like new",
      signals: ["reply", "call", "form"],
      when: null,
      does: "route",
      tag: "came back",
      calmHours: 0,
    },
    {
      id: "w_looks",
      name: "Managers hear when a parked lead looks at us",
      signals: ["click", "visit"],
      when: null,
      does: "tell",
      tag: null,
      calmHours: 72,
    },
  ],
  morning: { on: true, ways: ["email"] },
  letter: USUAL_LETTER,
  backups: USUAL_BACKUPS,
  privacy: USUAL_PRIVACY,
  sites: [],
  outcomes,
  restraint: {
    allowed: { from: "08:00", to: "21:00" },
    perDay: 6,
    words: {
      stop: ["STOP", "STOPALL", "UNSUBSCRIBE", "CANCEL", "END", "QUIT", "ARRET", "ALTO"],
      start: ["START", "UNSTOP"],
      help: ["HELP", "AIDE", "AYUDA"],
    },
    answers: OPT_ANSWERS,
  },
  booking: { minutes: 30, bufferMinutes: 10, noticeMinutes: 60, daysAhead: 10, people: [] },
  alerts: {
    "hand-off": ["chat", "text", "browser"],
    given: ["chat", "text", "browser"],
    standby: ["chat", "text", "browser"],
    nudge: ["chat", "text", "browser"],
    ring: ["chat", "browser"],
    reply: ["chat", "browser"],
    undelivered: ["chat", "browser"],
    "call-back": ["chat", "text", "browser"],
    again: ["chat"],
    booked: ["chat", "browser"],
    mentioned: ["chat", "browser"],
    gone: ["chat"],
    joined: ["chat"],
    planned: ["chat", "browser"],
    woke: ["chat", "browser"],
    listed: ["chat", "browser"],
    quiet: ["chat", "email"],
    list: ["chat", "browser"],
  },
  alertWords: {},
  passReasons: [
    "On another call",
    "Driving",
    "Not my product",
    "Conflict: I know them",
    "Finished for today",
  ],
  stages: [...LEAD_STAGES, ...DEAL_STAGES],
  reasons: [...LEAD_REASONS, ...DEAL_REASONS],
  questionSets: [],
  worksheets: [],
  layout: PLAIN_LAYOUT,
  hooks: [],
  giveReasons: GIVE_REASONS,
  setAside: { keepOwner: true, household: true },
  turns: { pass: "kept", lapse: "kept" },
  teamChat: "#lead-desk",
} as const satisfies Partial<Policies>;

const office = (zone: string): Hours => ({
  zone,
  week: Object.fromEntries([1, 2, 3, 4, 5].map((day) => [day, [["08:00", "17:00"]]])),
});

const SILENT: ReplyWay = { on: false, choices: [], delayMinutes: 0, hours: "allowed", from: null };
const NO_REPLY = { email: SILENT, text: SILENT };

export interface FirstWords {
  readonly company: string;
  readonly name: string;
  readonly email: string;
  /** IANA zone the desk keeps its hours in. */
  readonly zone: string;
}

/** Whoever sets a new desk up. */
export function firstPerson({ name, email, zone }: FirstWords): Person {
  return {
    id: "p_first",
    name,
    role: "administrator",
    email,
    phone: "",
    chat: "",
    hours: office(zone),
    absences: [],
    offDuty: false,
    products: null,
    languages: ["en"],
    territories: null,
    ceiling: null,
  };
}

/** A desk nobody has set up yet: usual policies, one group with nobody in it, and a rule that offers it everything. */
export function starter(now: number): Setup {
  const policies: Policies = {
    ...USUAL,
    version: 1,
    company: {
      name: "Your company",
      email: "desk@localhost",
      textLine: "",
      currency: "USD",
      country: "US",
      languages: ["en"],
    },
    desk: office("Etc/UTC"),
    products: [],
    fields: [],
    tags: [],
    completeness: [
      { fact: "phone", weight: 30 },
      { fact: "email", weight: 20 },
      { fact: "name", weight: 20 },
      { fact: "message", weight: 30 },
    ],
    territories: [],
    rules: [{ id: "r_all", name: "Everybody", when: null, to: { group: "g_all" }, offerMinutes: 5 }],
    routing: { version: 1, publishedAt: now, by: null, draft: null },
    standby: [],
    templates: [],
    // Until a team chat is set up everybody hears by mail.
    alerts: Object.fromEntries(
      Object.entries(USUAL.alerts).map(([about, ways]) => [
        about,
        ways.map((w) => (w === "chat" ? "email" : w)),
      ]),
    ),
    teamChat: "",
    settled: [],
    replies: { usual: NO_REPLY, again: { hours: 24, email: null, text: null } },
  };
  const hand = {
    id: "src_hand",
    key: "by-hand",
    name: "By hand",
    channel: "hand",
    state: "live",
    mapping: NO_MAPPING,
    reply: NO_REPLY,
  } as const;
  return {
    policies,
    people: [],
    groups: [{ id: "g_all", name: "Everybody", way: "rotation", members: [] }],
    sources: [hand],
  };
}

/** The first visitor has said who they are: the desk is theirs. */
export function begun(setup: Setup, words: FirstWords): Setup {
  const { company, email, zone } = words;
  return {
    ...setup,
    people: [firstPerson(words)],
    policies: {
      ...setup.policies,
      company: { ...setup.policies.company, name: company, email },
      desk: office(zone),
    },
  };
}
