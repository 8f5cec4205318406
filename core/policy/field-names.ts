import type { FactKey } from "./mapping.ts";

/** What fields of forms usually mean by their names, where no mapping says so. */

const BY_NAME: readonly [RegExp, FactKey][] = [
  [/^(first|given|fore)[ _-]?name$|^prenom$|^vorname$|^nombre$/, "first_name"],
  [/^(last|family|sur)[ _-]?name$|^surname$|^nom( de famille)?$|^nachname$|^apellidos?$/, "last_name"],
  [/e-?mail|courriel|correo/, "email"],
  [/phone|mobile|\bcell|\btel(efono|ephone)?$|^(numero|number)$|handy/, "phone"],
  [/company|business|organi[sz]ation|property[ _-]?name|empresa|entreprise|firma/, "company"],
  [/(^|[ _-])name$|^name|^contact$/, "name"],
  [/product|interest|model|producto|produit/, "product"],
  [/message|comment|question|notes?$|details|mensaje/, "message"],
  [/zip|post(al)?[ _-]?code|codigo[ _-]?postal|^plz$|code[ _-]?postal/, "postal_code"],
  [/address|street|direccion|adresse/, "address"],
  [/^(call[ _-]?(me[ _-]?)?(at|when|time)|best[ _-]?time.*|when[ _-]?to[ _-]?call)$/, "call_when"],
  [/^lang(uage)?$|^langue$|^idioma$/, "language"],
  [/^tags?$/, "tag"],
];

/** Which fact a field most likely is, by its name; null when nothing fits. */
export function guessFact(fieldName: string): FactKey | null {
  const known = guessed.get(fieldName);
  if (known !== undefined) return known;
  const name = fieldName
    .normalize("NFKD")
    .replace(/[\u0300-\u036f]/g, "")
    .toLowerCase()
    .trim();
  const guess = BY_NAME.find(([pattern]) => pattern.test(name))?.[1] ?? null;
  // Forms bring the same few names again and again; somebody else's thousand are not worth keeping.
  if (guessed.size < 1_000) guessed.set(fieldName, guess);
  return guess;
}

const guessed = new Map<string, FactKey | null>();

/** Names of fields that carry the sender's own number of the submission. */
export const SUBMISSION = ["submission_id", "submissionid", "lead_id", "leadid", "message_id"];
/** The name a chat gives to the conversation that a message is part of. */
export const CONVERSATION = "conversation_id";
const ENVELOPE = new Set([...SUBMISSION, CONVERSATION, "form_id", "created_at", "call_id"]);
const TRAIL = /^(utm_\w+|gclid|fbclid|msclkid|page|landing_page|referrer|consent)$/;

/** Whether a field describes the delivery, not the person. */
export function isEnvelope(field: string): boolean {
  return ENVELOPE.has(field.toLowerCase()) || field.startsWith("kb_");
}

/** Whether a field tells how somebody came here: campaign, page, click id. */
export function isTrail(field: string): boolean {
  return TRAIL.test(field.toLowerCase());
}
