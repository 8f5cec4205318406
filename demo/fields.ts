import type { OwnField, TagMeaning } from "../core/policy/own-fields.ts";
import type { Policies } from "../core/policy/setup.ts";
import type { WebForm } from "../core/policy/source.ts";

/** What Tarnholt Bathworks asks beyond what everybody asks, and the form on its website. */

const field = (
  key: string,
  name: string,
  type: OwnField["type"],
  choices: string[] = [],
  required = false,
) => ({
  key,
  name,
  type,
  choices,
  required,
});

export const ownFields: readonly OwnField[] = [
  field("holding_back", "What holds them back", "choice", ["space", "power", "price", "just looking"]),
  field("footprint", "Footprint", "text"),
  field("power", "Power at the site", "choice", ["240 V there", "240 V possible", "none", "not known"]),
  field("snow_load", "Snow load (psf)", "number"),
  field("units", "Units wanted", "text"),
  field("budget", "Budget", "money"),
  field("wanted_by", "Wanted by", "date"),
  field("plans", "Site plans", "link"),
  field("permit", "Permit in hand", "yes-no"),
  field("extras", "Extras asked about", "choices", [
    "changing room",
    "cold bucket",
    "lights",
    "wood heater",
    "steps",
  ]),
  field("birthday", "Birthday", "birthday"),
];

export const tagMeanings: readonly TagMeaning[] = [
  { name: "ad", meaning: "Came through a paid ad form" },
  { name: "show", meaning: "Talked to us at the home and garden show" },
  { name: "partner", meaning: "Sent by a builder or designer we pay a referral for" },
  { name: "snow country", meaning: "Needs the snow load papers before anything else" },
  { name: "just looking", meaning: "Said so: call once, then leave them be" },
];

export const completenessWeights: Policies["completeness"] = [
  { fact: "phone", weight: 5 },
  { fact: "name", weight: 3 },
  { fact: "email", weight: 3 },
  { fact: "product", weight: 4 },
  { fact: "postal_code", weight: 3 },
  { fact: "own.power", weight: 2 },
  { fact: "own.budget", weight: 2 },
  { fact: "own.wanted_by", weight: 2 },
];

export const PLAN_FORM: WebForm = {
  title: "Plan your sauna",
  intro: "Tell us what you have in mind. Somebody who builds them calls you back, today if we are open.",
  button: "Ask for a call",
  thanks: "Thank you. You will have an answer in your mail within a minute, and a call soon after.",
  fields: [
    { name: "name", label: "Your name", type: "text", required: true, choices: [] },
    {
      name: "phone",
      label: "Phone",
      type: "tel",
      required: false,
      choices: [],
      help: "So that we can call you.",
    },
    { name: "email", label: "Email", type: "email", required: true, choices: [] },
    {
      name: "product",
      label: "What would you like?",
      type: "choice",
      required: false,
      choices: [
        { value: "barrel", label: "A barrel sauna" },
        { value: "cabin", label: "A cabin sauna" },
        { value: "wood-fired", label: "A wood-fired tub" },
        { value: "plunge", label: "A plunge tub" },
        { value: "lodge", label: "Several, for an inn or a club" },
      ],
    },
    {
      name: "holding_back",
      label: "What is holding you back?",
      type: "choice",
      required: true,
      choices: [
        { value: "space", label: "Space" },
        { value: "power", label: "Power supply" },
        { value: "price", label: "Price" },
        { value: "just looking", label: "I am just looking", sets: { tag: "just looking" } },
      ],
    },
    { name: "postal_code", label: "Postal code", type: "text", required: false, choices: [] },
    { name: "message", label: "Anything we should know?", type: "area", required: false, choices: [] },
    {
      name: "consent",
      label: "You may write and call me about this request.",
      type: "consent",
      required: true,
      choices: [],
    },
  ],
};
