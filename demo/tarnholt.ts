import Holidays from "date-holidays";
import type { ReplyPolicy, ReplyWay, Template } from "../core/policy/answering.ts";
import { mapTo, NO_MAPPING } from "../core/policy/mapping.ts";
import type { Product, Territory } from "../core/policy/market.ts";
import type { Absence, Group, Person, Role } from "../core/policy/people.ts";
import type { Policies, Setup } from "../core/policy/setup.ts";
import type { Source } from "../core/policy/source.ts";
import { USUAL } from "../core/policy/starter.ts";
import type { DaySpan, Hours } from "../core/time/calendar.ts";
import { cadences } from "./cadences.ts";
import { completenessWeights, ownFields, PLAN_FORM, tagMeanings } from "./fields.ts";
import { layout, questionSets, worksheets } from "./qualifying.ts";
import { AGAIN_TEXT, FIRST_REPLY, MISSED_YOU, SEASON, SITE_AND_POWER } from "./replies.ts";

/** Tarnholt Bathworks, the made-up company all demo data belongs to. Nobody here exists. */

export const DESK_ZONE = "America/Denver";

const weekdays = (spans: readonly DaySpan[]): Hours["week"] => ({
  1: spans,
  2: spans,
  3: spans,
  4: spans,
  5: spans,
});

/** US public holidays as the desk keeps them, from the package date-holidays (observed days included). */
function holidays(years: readonly number[]): NonNullable<Hours["exceptions"]> {
  const calendar = new Holidays("US", { types: ["public"] });
  const days = years.flatMap((year) => calendar.getHolidays(year));
  return Object.fromEntries(days.map((d) => [d.date.slice(0, 10), { name: d.name, spans: [] }]));
}

const deskHours: Hours = {
  zone: DESK_ZONE,
  week: { ...weekdays([["08:00", "18:00"]]), 6: [["09:00", "13:00"]] },
  exceptions: holidays([2025, 2026, 2027]),
};

const products: readonly Product[] = [
  { key: "barrel", name: "Barrel sauna", value: 6_800, alsoCalled: ["barrel"] },
  { key: "cabin", name: "Cabin sauna", value: 14_500, alsoCalled: ["cabin"] },
  {
    key: "wood-fired",
    name: "Wood-fired tub",
    value: 5_200,
    alsoCalled: ["hot tub", "wood-fired", "woodfired"],
  },
  { key: "plunge", name: "Plunge tub", value: 2_900, alsoCalled: ["plunge", "cold plunge"] },
  { key: "lodge", name: "Lodge package", value: 48_000, alsoCalled: ["lodge", "inn", "several units"] },
];

const territories: readonly Territory[] = [
  {
    key: "cascades",
    name: "Cascades",
    zone: "America/Los_Angeles",
    country: "US",
    language: "en",
    areaCodes: ["206", "360", "425", "503", "541", "509"],
    postalPrefixes: ["97", "98", "99"],
  },
  {
    key: "high-plains",
    name: "High Plains",
    zone: "America/Denver",
    country: "US",
    language: "en",
    areaCodes: ["303", "720", "970", "307", "406", "208"],
    postalPrefixes: ["80", "81", "82", "59", "83"],
  },
  {
    key: "lakes",
    name: "Lakes",
    zone: "America/Chicago",
    country: "US",
    language: "en",
    areaCodes: ["312", "414", "608", "612", "218", "715"],
    postalPrefixes: ["53", "54", "55", "56", "60", "61"],
  },
  {
    key: "northeast",
    name: "Northeast",
    zone: "America/New_York",
    country: "US",
    language: "en",
    areaCodes: ["207", "603", "802", "518", "413", "617"],
    postalPrefixes: ["01", "02", "03", "04", "05", "12", "13"],
  },
  {
    key: "quebec",
    name: "Québec",
    zone: "America/Toronto",
    country: "CA",
    language: "fr",
    areaCodes: ["418", "514", "819", "450"],
    postalPrefixes: ["G", "H", "J"],
  },
  {
    key: "maritimes",
    name: "Maritimes",
    zone: "America/Halifax",
    country: "CA",
    language: "en",
    areaCodes: ["506", "902", "782", "428"],
    postalPrefixes: ["B", "C", "E"],
  },
];

interface Hire {
  readonly id: string;
  readonly name: string;
  readonly role: Role;
  readonly zone?: string;
  readonly week?: Hours["week"];
  readonly products?: readonly string[];
  readonly languages?: readonly string[];
  readonly ceiling?: number;
  readonly absences?: readonly Absence[];
}

const office = {
  ...weekdays([["07:30", "18:30"]]),
  6: [["08:45", "13:15"]],
} as const satisfies Hours["week"];
const onLeave: Absence = {
  from: Date.parse("2026-02-23T00:00:00-07:00"),
  to: Date.parse("2026-03-16T00:00:00-06:00"),
  reason: "parental leave until 16 March",
  coverId: "p_mara",
};
const NOT_LODGES = ["barrel", "cabin", "wood-fired", "plunge"];

const hires: readonly Hire[] = [
  { id: "p_ines", name: "Ines Okafor", role: "coordinator" },
  { id: "p_tomasz", name: "Tomasz Lindqvist", role: "coordinator" },
  { id: "p_mara", name: "Mara Whitehorse", role: "salesperson", products: NOT_LODGES },
  { id: "p_idris", name: "Idris Bell-Hassan", role: "salesperson", products: NOT_LODGES },
  {
    id: "p_noor",
    name: "Noor Castellanos",
    role: "salesperson",
    products: NOT_LODGES,
    languages: ["en", "es"],
  },
  {
    id: "p_luc",
    name: "Luc Arsenault",
    role: "salesperson",
    products: NOT_LODGES,
    languages: ["en", "fr"],
    zone: "America/Halifax",
    week: weekdays([["09:00", "20:00"]]),
  },
  {
    id: "p_emeka",
    name: "Emeka Strand",
    role: "salesperson",
    products: NOT_LODGES,
    week: { 2: office[1], 3: office[1], 4: office[1] },
  },
  {
    id: "p_yuki",
    name: "Yuki Navarro",
    role: "salesperson",
    products: NOT_LODGES,
    languages: ["en", "es"],
    absences: [onLeave],
  },
  { id: "p_sol", name: "Sol Petrakis", role: "salesperson", products: NOT_LODGES, ceiling: 6 },
  {
    id: "p_hanne",
    name: "Hanne Delacroix",
    role: "salesperson",
    products: ["lodge", "cabin"],
    languages: ["en", "fr"],
  },
  { id: "p_ravi", name: "Ravi Thornbury", role: "salesperson", products: ["lodge", "cabin"] },
  { id: "p_greta", name: "Greta Mbeki", role: "manager" },
  { id: "p_oskar", name: "Oskar Vance", role: "administrator" },
];

const people: readonly Person[] = hires.map((hire, i) => {
  const first = hire.name.split(" ")[0]!.toLowerCase();
  return {
    id: hire.id,
    name: hire.name,
    role: hire.role,
    email: `${first}@tarnholt.example`,
    phone: `+1720555${String(170 + i).padStart(4, "0")}`,
    chat: `@${first}`,
    hours: { zone: hire.zone ?? DESK_ZONE, week: hire.week ?? office },
    absences: hire.absences ?? [],
    offDuty: false,
    products: hire.products ?? null,
    languages: hire.languages ?? ["en"],
    territories: null,
    ceiling: hire.ceiling ?? null,
  };
});

const turns = (...ids: string[]) => ids.map((personId) => ({ personId, weight: 1 }));
const groups: readonly Group[] = [
  {
    id: "g_homes",
    name: "Homes",
    way: "rotation",
    members: turns("p_mara", "p_idris", "p_noor", "p_luc", "p_emeka", "p_yuki", "p_sol"),
  },
  { id: "g_lodges", name: "Lodges", way: "rotation", members: turns("p_hanne", "p_ravi") },
  { id: "g_french", name: "French", way: "rotation", members: turns("p_luc", "p_hanne") },
];

const answers = (templateId: string, hours: ReplyWay["hours"] = "any"): ReplyWay => ({
  on: true,
  choices: [{ when: null, templateId }],
  delayMinutes: 0,
  hours,
  from: null,
});
const silent: ReplyWay = { on: false, choices: [], delayMinutes: 0, hours: "allowed", from: null };
const NO_REPLY: ReplyPolicy = { email: silent, text: silent };
/** Mails may arrive at night; a phone should not buzz then. */
const usualReply: ReplyPolicy = { email: answers("first-email"), text: answers("first-text", "allowed") };
const adSecret = (byte: number) => `whsec_${Buffer.alloc(24, byte).toString("base64")}`;
/** What the ad platform's forms ask everybody, and what that is here. */
const adMapping = (product: string, more: Parameters<typeof mapTo>[0] = {}) =>
  mapTo(
    { full_name: "name", email: "email", phone_number: "phone", postal_code: "postal_code", ...more },
    { constants: { product }, tags: ["ad"] },
  );
const adForm = (
  accountId: string,
  accountName: string,
  formId: string,
  formName: string,
  question: [string, string],
) => ({
  accountId,
  accountName,
  pageName: "Tarnholt Bathworks",
  formId,
  formName,
  questions: [
    { field: "full_name", label: "Full name" },
    { field: "email", label: "Email" },
    { field: "phone_number", label: "Phone number" },
    { field: "postal_code", label: "Postal code" },
    { field: question[0], label: question[1] },
  ],
});
const sources: readonly Source[] = [
  {
    id: "src_site",
    key: "plan-your-sauna",
    name: "Website: plan your sauna",
    channel: "website",
    state: "live",
    mapping: mapTo({
      name: "name",
      email: "email",
      phone: "phone",
      product: "product",
      message: "message",
      postal_code: "postal_code",
      holding_back: "own.holding_back",
    }),
    form: PLAN_FORM,
  },
  {
    id: "src_barrel",
    key: "ad-barrel",
    name: "Ad: barrel saunas, spring",
    channel: "ad-form",
    state: "live",
    signingSecret: adSecret(7),
    mapping: adMapping("barrel"),
    adForm: adForm("acc_homes", "Tarnholt Homes", "frm_barrel_spring", "Barrel saunas, spring", [
      "when_to_build",
      "When would you like it?",
    ]),
  },
  {
    id: "src_plunge",
    key: "ad-plunge",
    name: "Ad: plunge tubs for athletes",
    channel: "ad-form",
    state: "live",
    signingSecret: adSecret(8),
    mapping: adMapping("plunge"),
    adForm: adForm("acc_homes", "Tarnholt Homes", "frm_plunge_athletes", "Plunge tubs for athletes", [
      "who_is_it_for",
      "Who is it for?",
    ]),
  },
  {
    id: "src_lodge",
    key: "ad-lodge",
    name: "Ad: lodge brochure",
    channel: "ad-form",
    state: "live",
    signingSecret: adSecret(9),
    mapping: adMapping("lodge", { property_name: "company", number_of_units: "own.units" }),
    adForm: adForm("acc_trade", "Tarnholt Trade", "frm_lodge_brochure", "Lodge brochure", [
      "number_of_units",
      "How many units?",
    ]),
  },
  {
    id: "src_showroom",
    key: "showroom-line",
    name: "Showroom line",
    channel: "call",
    state: "live",
    line: "+17205550100",
    mapping: NO_MAPPING,
    reply: NO_REPLY,
  },
  {
    id: "src_trailer",
    key: "trailer-line",
    name: "Number on the trailers",
    channel: "call",
    state: "live",
    line: "+17205550101",
    mapping: NO_MAPPING,
    reply: NO_REPLY,
  },
  {
    id: "src_text",
    key: "text-line",
    name: "Text line",
    channel: "text",
    state: "live",
    line: "+17205550102",
    mapping: NO_MAPPING,
    reply: { email: silent, text: answers("first-text") },
  },
  {
    id: "src_hello",
    key: "hello-mailbox",
    name: "hello@ mailbox",
    channel: "email",
    state: "live",
    line: "hello@tarnholt.example",
    mapping: NO_MAPPING,
    reply: { email: answers("first-email"), text: silent },
  },
  {
    id: "src_show",
    key: "garden-show",
    name: "Home and garden show",
    channel: "spreadsheet",
    state: "live",
    mapping: { ...NO_MAPPING, tags: ["show"] },
    reply: { email: answers("first-email"), text: silent },
  },
  {
    id: "src_partner",
    key: "partners",
    name: "Partner referrals",
    channel: "document",
    state: "live",
    mapping: { ...NO_MAPPING, tags: ["partner"] },
  },
  {
    id: "src_hand",
    key: "walk-in",
    name: "Walk-in, by hand",
    channel: "hand",
    state: "live",
    mapping: NO_MAPPING,
    reply: NO_REPLY,
  },
];

const templates: readonly Template[] = [
  { id: "first-email", name: "First reply, email", channel: "email", texts: FIRST_REPLY.email },
  { id: "first-text", name: "First reply, text", channel: "text", texts: FIRST_REPLY.text },
  { id: "again-text", name: "Asked again, text", channel: "text", texts: AGAIN_TEXT },
  { id: "missed-you", name: "Missed you on the phone", channel: "text", texts: MISSED_YOU },
  { id: "season", name: "A season in the cedar", channel: "email", texts: SEASON },
  {
    id: "site-and-power",
    name: "What we need to know about the site",
    channel: "email",
    texts: SITE_AND_POWER,
  },
];

const policies: Policies = {
  ...USUAL,
  version: 1,
  settled: ["company", "hours", "tried"],
  company: {
    name: "Tarnholt Bathworks",
    email: "hello@tarnholt.example",
    textLine: "+17205550102",
    currency: "USD",
    country: "US",
    languages: ["en", "fr", "es"],
  },
  desk: deskHours,
  products,
  fields: ownFields,
  tags: tagMeanings,
  completeness: completenessWeights,
  territories,
  rules: [
    {
      id: "r_lodge",
      name: "Lodge packages",
      when: { field: "product", is: "equal", value: "lodge" },
      to: { group: "g_lodges" },
      offerMinutes: 3,
    },
    {
      id: "r_french",
      name: "French speakers",
      when: { field: "language", is: "equal", value: "fr" },
      to: { group: "g_french" },
      offerMinutes: 2,
    },
    { id: "r_homes", name: "Everybody else", when: null, to: { group: "g_homes" }, offerMinutes: 2 },
  ],
  routing: { version: 1, publishedAt: Date.parse("2025-12-01T09:00:00-07:00"), by: "p_oskar", draft: null },
  standby: ["p_tomasz", "p_greta"],
  cadences,
  questionSets,
  worksheets,
  layout,
  sites: ["www.tarnholt.example"],
  holidays: { country: "US", region: "CO" },
  letter: { ...USUAL.letter, on: true },
  // Moved time would bring one for each night: they are made at a press.
  backups: { ...USUAL.backups, on: false },
  templates,
  replies: { usual: usualReply, again: { hours: 24, email: null, text: "again-text" } },
  booking: {
    ...USUAL.booking,
    people: ["p_mara", "p_idris", "p_noor", "p_luc", "p_emeka", "p_sol"],
  },
};

export const tarnholt: Setup = { policies, people, groups, sources };
