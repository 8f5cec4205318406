import type { E164 } from "../contact/phone.ts";
import type { PhoneKind } from "../policy/mapping.ts";
import type { OwnValue } from "../policy/own-fields.ts";
import type { ContactWay } from "../vocabulary.ts";
import type { Lead } from "./lead.ts";

/** What one inquiry says, in our terms. Null is "not said"; what is rare is left out when not said. */
export interface InquiryFacts {
  readonly name: string | null;
  readonly emails: readonly string[];
  readonly phones: readonly E164[];
  readonly company: string | null;
  readonly product: string | null;
  readonly value: number | null;
  readonly message: string | null;
  readonly postalCode: string | null;
  readonly territory: string | null;
  readonly zone: string | null;
  readonly language: string | null;
  readonly answers: Readonly<Record<string, string>>;
  readonly tags: readonly string[];
  readonly kinds?: Readonly<Record<E164, PhoneKind>>;
  readonly own?: Readonly<Record<string, OwnValue>>;
  readonly address?: string;
  readonly preferred?: ContactWay;
  readonly forbidden?: readonly ContactWay[];
  /** More about where it comes from: which show, which partner. */
  readonly detail?: string;
  /** When they asked to be called, in their words. */
  readonly callWhen?: string;
  /** What they agreed to on a form, or did not: in the form's very words as they read them, with what they sent. */
  readonly consents?: readonly { readonly wording: string; readonly said: string }[];
  /** Numbers and addresses as they were written that nobody can be reached by. */
  readonly unread?: readonly string[];
}

/** Facts as somebody of ours sets them; null forgets one. */
export interface LearnedFacts {
  readonly name?: string | null;
  readonly company?: string | null;
  readonly emails?: readonly string[];
  readonly phones?: readonly string[];
  readonly tags?: readonly string[];
  readonly facts?: Partial<Lead["facts"]>;
}
