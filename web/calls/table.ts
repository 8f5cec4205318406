import type { z } from "zod";
import { ACCESS } from "./access.ts";
import { CADENCES } from "./cadences.ts";
import { COMPANY } from "./company.ts";
import { CUSTOMERS } from "./customers.ts";
import { DESK } from "./desk.ts";
import { DOORS } from "./doors.ts";
import { FIGURES } from "./figures.ts";
import { INTAKE } from "./intake.ts";
import { LAB } from "./lab.ts";
import { LEADS } from "./leads.ts";
import { OUTSIDE } from "./outside.ts";
import { PRIVACY } from "./privacy.ts";
import { REHEARSAL } from "./rehearsal.ts";
import { ROUTING } from "./routing.ts";
import { SETUP } from "./setup.ts";

/**
 * Every call of the API, once. Who may make it, the check of what is sent, the types of handler and browser, the API's
 * document and the contract tests all come from here; a page's handler is `serve`d under its key.
 */
export const CALLS = {
  ...DOORS,
  ...DESK,
  ...LEADS,
  ...CADENCES,
  ...INTAKE,
  ...SETUP,
  ...COMPANY,
  ...CUSTOMERS,
  ...FIGURES,
  ...LAB,
  ...ROUTING,
  ...ACCESS,
  ...PRIVACY,
  ...OUTSIDE,
  ...REHEARSAL,
};

export type Calls = typeof CALLS;
export type CallKey = keyof Calls;

/** What may stand for a `T` that is sent as JSON: lists that nobody may change as well. */
export type Sendable<T> = T extends readonly (infer U)[]
  ? readonly Sendable<U>[]
  : T extends object
    ? { readonly [K in keyof T]: Sendable<T[K]> }
    : T;

/** What a call takes as JSON, as whoever calls writes it; `undefined` where it takes none. */
export type SentTo<K extends CallKey> = Calls[K] extends { body: infer B extends z.ZodType }
  ? Sendable<z.input<B>>
  : undefined;
/** The same once it has been checked, as a handler gets it. */
export type Checked<K extends CallKey> = Calls[K] extends { body: infer B extends z.ZodType }
  ? z.output<B>
  : undefined;
/** What a call answers. */
export type AnswerOf<K extends CallKey> = z.output<Calls[K]["answer"]>;

/** The names in a path: `"id"` of `GET /leads/[id]`. */
export type ParamsOf<K extends string> = K extends `${string}[${infer Name}]${infer Rest}`
  ? Name | ParamsOf<Rest>
  : never;
/** What may stand after the question mark. */
export type QueryOf<K extends CallKey> = Calls[K] extends { query: infer Q } ? keyof Q : never;
