import type { Territory } from "../core/policy/market.ts";
import type { Chance } from "./chance.ts";
import { tarnholt } from "./tarnholt.ts";

/** Somebody who asks. All invented; phones are fictional (555-0100…0199), addresses reserved (RFC 2606). */
export interface Inquirer {
  readonly name: string;
  readonly phone: string;
  readonly email: string;
  readonly postalCode: string;
  readonly company: string | null;
}

const FIRST =
  "Amara Björn Camila Dmitri Esther Farid Greta Hiroshi Imani Jonas Keiko Lorenzo Maeve Nadia Otis Priya Quentin Rosa Silas Tove Umar Valentina Wendell Xiomara Yusuf Zofia Alder Bettina Cassius Delphine Eamon Fleur Gideon Hollis Isolde Jamal Katya Leif Marisol Nils Oona Pascal Rune Sabine Thandiwe Ulla Viktor Winona".split(
    " ",
  );
const LAST =
  "Abernathy Boudreau Castellan Drummond Eklund Fairbanks Galloway Hawthorne Ibarra Jankowski Kowalczyk Lafontaine Montrose Nakamura Oduya Pemberton Quigley Rasmussen Sandoval Thibault Ulrich Vasquez Whitcombe Xu Yamada Zielinski Ashgrove Birchall Cormier Dufresne Escobar Fontaine Grimaldi Huxley Iverson".split(
    " ",
  );
const PLACES =
  "Alder Brook,Antler Ridge,Blue Heron,Bear Hollow,Cold Spring,Copper Creek,Elk Meadow,Fern Gully,Foxglove,Gray Owl,Hidden Lake,High Pass,Juniper Flat,Kestrel,Lone Larch,Maple Bay,Moose Landing,North Fork,Otter Point,Painted Rock".split(
    ",",
  );
const INNS = [
  ...PLACES.map((place, i) => `${place} ${["Inn", "Lodge", "Cabins", "Athletic Club", "Resort"][i % 5]}`),
  "Pinecrest Inn",
  "Larkmoor Lodge",
  "Harbour Light Guesthouse",
  "Blue Spruce Cabins",
  "Northfold Athletic Club",
  "Stillwater Retreat",
  "Auberge du Vieux Quai",
  "Granite Peak Gym",
  "Cedar Bend Resort",
  "Foxglove Bed and Breakfast",
];
const WISHES = {
  barrel: [
    "Would a 6 ft barrel fit on a second-floor deck?",
    "Do you ship to us, and how long does it take?",
    "Can it run on a normal 120 V outlet?",
    "What snow load can the roof take?",
    "We'd like it before the summer.",
  ],
  cabin: [
    "Looking for a four-person cabin with a window to the lake.",
    "Is the foundation included in the price?",
    "How much power does the heater need?",
    "We are comparing with building one ourselves.",
  ],
  "wood-fired": [
    "How long until the tub is hot?",
    "Is a chimney permit needed?",
    "Can two people set it up?",
    "Price with delivery, please.",
  ],
  plunge: [
    "Need something that stays at 45 °F all year.",
    "For four swimmers after training, is one enough?",
    "How loud is the chiller?",
    "Does it fit through a 32 inch door?",
  ],
  lodge: [
    "Six units for an inn, opening in June.",
    "Please send the brochure and lead times.",
    "We want a sauna house and two plunge tubs.",
    "Who installs, and do you service them?",
  ],
} as const;
const HOLDING = ["space", "power", "price", "just looking"] as const;
const FRENCH = [
  "Quel est le délai de livraison ?",
  "Est-ce que ça tient sur un balcon ?",
  "Le prix avec la livraison, s'il vous plaît.",
];

export type ProductKey = keyof typeof WISHES;

/** Numbers of the fictional range that belong to somebody of the demo: the people, the lines, and the morning's leads. */
const SPOKEN_FOR: ReadonlySet<string> = new Set(
  [
    ...["720-0100", "720-0101", "720-0102", "406-0141", "612-0118", "303-0138", "503-0187", "970-0126"],
    ...["802-0164", "418-0109", "307-0133", "206-0133", "303-0172"],
    ...Array.from({ length: 30 }, (_, i) => `720-0${170 + i}`),
  ].map((number) => number.replace("-", "-555-")),
);

/**
 * Hands out telephone numbers, each once: of the range set aside for fiction, 555-0100 to 555-0199 of an area code.
 * Source: the North American numbering plan's reservation for entertainment (value from memory).
 */
export function phoneBook(): (territory: Territory) => string {
  const given = new Map<string, number>();
  return (territory) => {
    const { key, areaCodes } = territory;
    for (;;) {
      const n = given.get(key) ?? 0;
      given.set(key, n + 1);
      const area = areaCodes[n % areaCodes.length]!;
      // Where all have been given, they are given again: people move.
      const line = String(Math.floor(n / areaCodes.length) % 100).padStart(2, "0");
      if (!SPOKEN_FOR.has(`${area}-555-01${line}`)) return `(${area}) 555-01${line}`;
    }
  };
}

/** A new person; their phone number and place agree. */
const plainly = (text: string) =>
  text
    .normalize("NFD")
    .toLowerCase()
    .replace(/[^a-z ]/g, "");

export function inquirer(
  chance: Chance,
  index: number,
  inn: boolean,
  phoneIn: (territory: Territory) => string,
): Inquirer {
  const territory = chance.pick(tarnholt.policies.territories);
  const name = `${chance.pick(FIRST)} ${chance.pick(LAST)}`;
  const local = plainly(name).replace(/ /g, ".");
  const prefix = chance.pick(territory.postalPrefixes);
  const mailbox = chance.pick(["", ".", "_"]);
  const phone = phoneIn(territory);
  const company = inn ? chance.pick(INNS) : null;
  const site = company && `${plainly(company).replace(/ /g, "-")}.example`;
  return {
    name,
    phone,
    email: site ? `${local}@${site}` : `${local}${mailbox}${index}@mail.example`,
    postalCode:
      territory.country === "US"
        ? `${prefix}${String(100 + (index % 900))
            .slice(0, 5 - prefix.length)
            .padEnd(5 - prefix.length, "0")}`
        : `${prefix}1A 2B3`,
    company,
  };
}

/** What they ask, by product and place. */
export function wish(chance: Chance, product: ProductKey, who: Inquirer): string {
  return /^[GHJ]/.test(who.postalCode) ? chance.pick(FRENCH) : chance.pick(WISHES[product]);
}

/** What each source delivers for them, in its own field names. */
export function payload(
  chance: Chance,
  sourceKey: string,
  product: ProductKey,
  who: Inquirer,
  submission: string,
): Record<string, unknown> {
  const message = wish(chance, product, who);
  switch (sourceKey) {
    case "plan-your-sauna":
      return {
        name: who.name,
        email: who.email,
        phone: who.phone,
        product,
        ...(chance.hits(0.7) && { message }),
        holding_back: chance.pick(HOLDING),
        postal_code: who.postalCode,
        submission_id: submission,
        page: "https://tarnholt.example/plan",
        utm_source: chance.pick(["search", "newsletter", "direct"]),
      };
    case "ad-barrel":
    case "ad-plunge":
    case "ad-lodge": {
      const answers = [
        { field: "full_name", value: who.name },
        { field: "email", value: who.email },
        { field: "phone_number", value: who.phone },
        { field: "postal_code", value: who.postalCode },
        ...(who.company ? [{ field: "property_name", value: who.company }] : []),
        ...(chance.hits(0.4) ? [{ field: "message", value: message }] : []),
      ];
      return { submission_id: submission, form_id: sourceKey, answers };
    }
    case "text-line":
      return { phone: who.phone, message, submission_id: submission };
    case "hello-mailbox":
      return { name: who.name, email: who.email, message, product };
    case "showroom-line":
    case "trailer-line":
      return {
        phone: who.phone,
        ...(chance.hits(0.6) && { name: who.name }),
        call_id: submission,
        kb_result: chance.weighted({ answered: 5, missed: 4, voicemail: 2 }),
        kb_seconds: Math.round(20 + chance.next() * 240),
        kb_person: chance.pick(["p_ines", "p_tomasz"]),
      };
    default:
      return { name: who.name, email: who.email, phone: who.phone, product, message };
  }
}
