import type { QuestionSet } from "../core/policy/questions.ts";
import type { Setup } from "../core/policy/setup.ts";
import type { DocumentLayout, Worksheet } from "../core/policy/worksheet.ts";

/** How Tarnholt Bathworks qualifies and prices: what it asks, and how it reckons. */

const homes = { field: "product", is: "one-of", value: ["barrel", "cabin", "wood-fired", "plunge"] } as const;

export const questionSets: readonly QuestionSet[] = [
  {
    id: "qs_first",
    name: "Before anything else",
    when: { field: "product", is: "unknown" },
    questions: [
      {
        key: "product",
        words: "Is it for a home or for guests, and what have you thought of?",
        field: "product",
        help: "What to ask next follows from this.",
        points: [],
      },
      {
        key: "postal_code",
        words: "Where would it stand? The postal code is enough.",
        field: "postal_code",
        help: "",
        points: [],
      },
    ],
  },
  {
    id: "qs_home",
    name: "A bath at home",
    when: homes,
    questions: [
      {
        key: "product",
        words: "What would you like to have in the garden: a sauna, a hot tub, a cold plunge?",
        field: "product",
        help: "Say the typical price when they ask; it stands beside each product.",
        points: [
          { points: 20, is: ["cabin"] },
          { points: 10, is: ["barrel", "wood-fired"] },
          { points: 5, is: ["plunge"] },
        ],
      },
      {
        key: "power",
        words: "Is there 240-volt power where it would stand, or can it be brought there?",
        field: "own.power",
        help: "An electric heater needs it. With none, offer the wood heater.",
        points: [
          { points: 20, is: ["240 V there"] },
          { points: 10, is: ["240 V possible"] },
          { points: -10, is: ["none"] },
        ],
      },
      {
        key: "wood",
        words: "Would a wood-fired heater be all right where you live?",
        field: "own.extras",
        help: "Some towns forbid it in summer. Mark “wood heater” when it is.",
        when: { field: "own.power", is: "equal", value: "none" },
        points: [],
      },
      {
        key: "footprint",
        words: "How much level room is there?",
        field: "own.footprint",
        help: "A barrel for four takes 6 by 7 feet, a cabin 8 by 10.",
        points: [],
      },
      {
        key: "budget",
        words: "Is there a sum you have in mind, or should I tell you what people usually spend?",
        field: "own.budget",
        help: "",
        points: [
          { points: 30, atLeast: 12_000 },
          { points: 20, atLeast: 6_000 },
          { points: 5, atLeast: 2_500 },
          { points: -10, atMost: 2_499 },
        ],
      },
      {
        key: "wanted_by",
        words: "By when would you like to sit in it?",
        field: "own.wanted_by",
        help: "Lead time is six to nine weeks.",
        points: [],
      },
      {
        key: "postal_code",
        words: "What is the postal code there? I look up the snow load and the delivery.",
        field: "postal_code",
        help: "",
        points: [],
      },
    ],
  },
  {
    id: "qs_lodge",
    name: "Inns, lodges and clubs",
    when: { field: "product", is: "equal", value: "lodge" },
    questions: [
      {
        key: "company",
        words: "What is the house called, and is it yours to decide?",
        field: "company",
        help: "Ask who else decides, and note the name.",
        points: [],
      },
      {
        key: "units",
        words: "How many units do you think of?",
        field: "own.units",
        help: "From three on, delivery is one price.",
        points: [],
      },
      {
        key: "permit",
        words: "Is there a permit already, or shall we send the papers for it?",
        field: "own.permit",
        help: "",
        points: [{ points: 30, is: ["yes"] }],
      },
      {
        key: "budget",
        words: "What has been set aside for it?",
        field: "own.budget",
        help: "",
        points: [
          { points: 40, atLeast: 40_000 },
          { points: 20, atLeast: 15_000 },
        ],
      },
      {
        key: "wanted_by",
        words: "Which season must it be open for?",
        field: "own.wanted_by",
        help: "",
        points: [],
      },
    ],
  },
];

export const layout: DocumentLayout = {
  paper: "LETTER",
  sender: "4100 Alder Yard\nDenver, CO 80216\n(720) 555-0100 · hello@tarnholt.example",
  footer: "Made of western red cedar. Ten years on the wood, five on the heater.",
};

const TERMS =
  "Half with the order, half on delivery. Delivery six to nine weeks after the order. The foundation and the electrical connection are done by your own people; we send the drawings.";

export const worksheets: readonly Worksheet[] = [
  {
    id: "ws_sauna",
    version: 1,
    name: "Sauna or tub, delivered",
    product: null,
    inputs: [
      { key: "price", name: "Price of one", type: "money", from: "value", usual: "6800" },
      { key: "pieces", name: "Pieces", type: "number", usual: "1" },
      { key: "miles", name: "Miles from Denver", type: "number", usual: "120" },
      { key: "discount", name: "Discount", type: "percent", usual: "0" },
      { key: "extras", name: "Extras", type: "money", usual: "0" },
    ],
    lines: [
      { key: "units", name: "Units", formula: "price * pieces", shown: true },
      { key: "more", name: "Extras", formula: "extras", shown: true },
      { key: "less", name: "Discount", formula: "-(units + more) * discount", shown: true },
      {
        key: "delivery",
        name: "Delivery and setting up",
        formula: "if(miles <= 50, 250, 250 + (miles - 50) * 3.4)",
        shown: true,
        roundTo: "5",
      },
      { key: "net", name: "Price", formula: "units + more + less + delivery", shown: false },
    ],
    total: "net",
    tax: "4.81",
    taxName: "Sales tax, 4.81 %",
    validDays: 30,
    terms: TERMS,
  },
  {
    id: "ws_lodge",
    version: 1,
    name: "Lodge package",
    product: "lodge",
    inputs: [
      { key: "units", name: "Units", type: "number", usual: "4" },
      { key: "each", name: "Price of one", type: "money", usual: "11200" },
      { key: "site", name: "Site work", type: "money", usual: "6500" },
      { key: "margin", name: "Reserve for the unforeseen", type: "percent", usual: "4" },
    ],
    lines: [
      { key: "baths", name: "Saunas and tubs", formula: "units * each", shown: true },
      {
        key: "many",
        name: "Price for several",
        formula: "if(units >= 6, -baths * 8%, if(units >= 3, -baths * 4%, 0))",
        shown: true,
      },
      { key: "ground", name: "Site work", formula: "site", shown: true },
      { key: "reserve", name: "Reserve", formula: "(baths + ground) * margin", shown: true, roundTo: "10" },
      { key: "net", name: "Price", formula: "baths + many + ground + reserve", shown: false },
    ],
    total: "net",
    tax: "0",
    taxName: "Tax",
    validDays: 60,
    terms: TERMS,
  },
];

/** The set-up of the demo: before *Qualified* some of it must be known. On an empty desk nothing is required yet. */
export function withRequirements(setup: Setup): Setup {
  const needed = new Set(["product", "power", "budget", "wanted_by", "company", "units", "postal_code"]);
  const required = questionSets.map((set) => ({
    ...set,
    questions: set.questions.map((q) => (needed.has(q.key) ? { ...q, requiredFor: "Qualified" } : q)),
  }));
  return { ...setup, policies: { ...setup.policies, questionSets: required } };
}
