import { randomBytes, randomUUID } from "node:crypto";
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import type { AddressInfo } from "node:net";
import { Webhook } from "standardwebhooks";

/** The stand-in ad platform, “Billboard Lane”: accounts with pages with lead forms, behind a sign-in of its own. */

export interface Question {
  readonly field: string;
  readonly label: string;
  readonly choices?: readonly string[];
}

export interface AdForm {
  readonly id: string;
  readonly name: string;
  readonly questions: readonly Question[];
}

interface Account {
  readonly id: string;
  readonly name: string;
  readonly pages: readonly {
    readonly id: string;
    readonly name: string;
    readonly forms: readonly AdForm[];
  }[];
}

const WHO: readonly Question[] = [
  { field: "full_name", label: "Full name" },
  { field: "email", label: "Email" },
  { field: "phone_number", label: "Phone number" },
  { field: "postal_code", label: "Postal code" },
];
const form = (id: string, name: string, question: Question): AdForm => ({
  id,
  name,
  questions: [...WHO, question],
});

const ACCOUNTS: readonly Account[] = [
  {
    id: "acc_homes",
    name: "Tarnholt Homes",
    pages: [
      {
        id: "pg_homes",
        name: "Tarnholt Bathworks",
        forms: [
          form("frm_barrel_spring", "Barrel saunas, spring", {
            field: "when_to_build",
            label: "When would you like it?",
            choices: ["This spring", "This summer", "Next year"],
          }),
          form("frm_plunge_athletes", "Plunge tubs for athletes", {
            field: "who_is_it_for",
            label: "Who is it for?",
            choices: ["Myself", "A team", "A gym"],
          }),
          form("frm_tub_winter", "Wood-fired tubs, winter", {
            field: "how_many_bathers",
            label: "How many bathe at once?",
            choices: ["2", "4", "6 or more"],
          }),
        ],
      },
    ],
  },
  {
    id: "acc_trade",
    name: "Tarnholt Trade",
    pages: [
      {
        id: "pg_trade",
        name: "Tarnholt for inns",
        forms: [
          form("frm_lodge_brochure", "Lodge brochure", {
            field: "number_of_units",
            label: "How many units?",
            choices: ["1–2", "3–5", "More than 5"],
          }),
        ],
      },
    ],
  },
];

interface Submission {
  readonly submission_id: string;
  readonly form_id: string;
  readonly created_at: string;
  readonly answers: readonly { readonly field: string; readonly value: string }[];
}

interface State {
  tokens: string[];
  hooks: Record<string, { url: string; secret: string }>;
  submissions: Submission[];
  /** Questions somebody added to a form since. */
  added: Record<string, Question[]>;
}

/** Pauses before a failed delivery is tried again (ms). */
const RETRIES = [1_000, 4_000, 15_000, 60_000, 300_000];

export class AdPlatform {
  readonly #state: State;
  readonly #file: string | null;
  readonly #now: () => number;
  readonly #codes = new Set<string>();
  readonly #later = new Set<NodeJS.Timeout>();

  /** `now` dates submissions; `file` keeps the platform's memory over restarts. */
  constructor(now: () => number, file: string | null = null) {
    this.#now = now;
    this.#file = file;
    const blank: State = { tokens: [], hooks: {}, submissions: [], added: {} };
    this.#state = file && existsSync(file) ? { ...blank, ...JSON.parse(readFileSync(file, "utf8")) } : blank;
  }

  #keep(): void {
    if (this.#file) writeFileSync(this.#file, JSON.stringify(this.#state));
  }

  accounts(): readonly Account[] {
    return ACCOUNTS;
  }

  /** Every form, with the questions added since. */
  forms(): AdForm[] {
    return ACCOUNTS.flatMap((a) => a.pages.flatMap((p) => p.forms)).map((f) => ({
      ...f,
      questions: [...f.questions, ...(this.#state.added[f.id] ?? [])],
    }));
  }

  /** Somebody at the company adds a question to a running form, as people do without telling anybody. */
  addQuestion(formId: string, question: Question): void {
    this.#state.added[formId] = [...(this.#state.added[formId] ?? []), question];
    this.#keep();
  }

  /** Deliver a form's submissions to an address from now on. Gives the secret they are signed with. */
  listen(formId: string, url: string, secret = `whsec_${randomBytes(24).toString("base64")}`): string {
    this.#state.hooks[formId] = { url, secret };
    this.#keep();
    return secret;
  }

  listens(formId: string): boolean {
    return formId in this.#state.hooks;
  }

  /** Somebody fills in a form. It is kept, and posted to whoever listens; `hold` posts nothing, as in an outage. */
  async fill(
    formId: string,
    answers: Readonly<Record<string, string>>,
    { hold = false } = {},
  ): Promise<Response | null> {
    const submission: Submission = {
      submission_id: `sub_${randomUUID()}`,
      form_id: formId,
      created_at: new Date(this.#now()).toISOString(),
      answers: Object.entries(answers).map(([field, value]) => ({ field, value })),
    };
    this.#state.submissions.push(submission);
    this.#keep();
    return hold ? null : this.#deliver(submission, 0);
  }

  async #deliver(submission: Submission, attempt: number): Promise<Response | null> {
    const hook = this.#state.hooks[submission.form_id];
    if (!hook) return null;
    const { body, headers } = signDelivery(submission, hook.secret, Date.now());
    const response = await fetch(hook.url, { method: "POST", body, headers }).catch(() => null);
    const again = RETRIES[attempt];
    if ((!response || response.status >= 500) && again !== undefined) {
      const handle = setTimeout(() => {
        this.#later.delete(handle);
        void this.#deliver(submission, attempt + 1);
      }, again);
      handle.unref();
      this.#later.add(handle);
    }
    return response;
  }

  submissions(formId: string, since: number): Submission[] {
    return this.#state.submissions.filter((s) => s.form_id === formId && Date.parse(s.created_at) >= since);
  }

  /** A one-time code for somebody who has allowed the connection. */
  allow(): string {
    const code = randomBytes(12).toString("base64url");
    this.#codes.add(code);
    return code;
  }

  /** A token for a code; null when the code is not known or used up. */
  exchange(code: string): string | null {
    if (!this.#codes.delete(code)) return null;
    const token = randomBytes(24).toString("base64url");
    this.#state.tokens.push(token);
    this.#keep();
    return token;
  }

  knows(token: string): boolean {
    return this.#state.tokens.includes(token);
  }

  stop(): void {
    for (const handle of this.#later) clearTimeout(handle);
  }
}

/** The delivery as the platform posts it: body and Standard Webhooks headers. `sentAt` is epoch ms, real time. */
export function signDelivery(
  submission: Submission,
  secret: string,
  sentAt: number,
): { body: string; headers: Record<string, string> } {
  const body = JSON.stringify(submission);
  const id = submission.submission_id;
  return {
    body,
    headers: {
      "content-type": "application/json",
      "webhook-id": id,
      "webhook-timestamp": String(Math.floor(sentAt / 1000)),
      "webhook-signature": new Webhook(secret).sign(id, new Date(sentAt), body),
    },
  };
}

const escaped = (text: string) => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);

const signIn = (redirect: string, state: string) => `<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1"><title>Billboard Lane</title>
<style>body{font:16px/1.5 system-ui;max-width:26rem;margin:4rem auto;padding:0 1rem;color:#222;background:#fff}
button{font:inherit;padding:.6rem 1.2rem;border:0;border-radius:4px;background:#27496d;color:#fff}a{color:#27496d}</style>
<h1>Billboard Lane</h1><p>You are signed in as <b>Oskar Vance</b> of Tarnholt Bathworks.</p>
<p><b>Kite Bell</b> would like to read your lead forms and receive what people fill in.</p>
<form method="post" action="/authorize"><input type="hidden" name="redirect_uri" value="${escaped(redirect)}">
<input type="hidden" name="state" value="${escaped(state)}"><button>Allow</button>
<a href="${escaped(redirect)}?error=denied&amp;state=${escaped(encodeURIComponent(state))}">Don’t allow</a></form></html>`;

async function bodyOf(request: IncomingMessage): Promise<string> {
  const chunks: Buffer[] = [];
  for await (const chunk of request) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks).toString("utf8");
}

function serve(
  platform: AdPlatform,
  response: ServerResponse,
  method: string,
  url: URL,
  body: string,
  token: string,
): void {
  const json = (status: number, value: unknown) =>
    response.writeHead(status, { "content-type": "application/json" }).end(JSON.stringify(value));
  if (url.pathname === "/authorize" && method === "GET") {
    const { searchParams } = url;
    response.writeHead(200, { "content-type": "text/html; charset=utf-8" });
    response.end(signIn(searchParams.get("redirect_uri") ?? "", searchParams.get("state") ?? ""));
    return;
  }
  if (url.pathname === "/authorize") {
    const sent = new URLSearchParams(body);
    const back = new URL(sent.get("redirect_uri") ?? "");
    back.searchParams.set("code", platform.allow());
    back.searchParams.set("state", sent.get("state") ?? "");
    response.writeHead(303, { location: back.href }).end();
    return;
  }
  if (url.pathname === "/token") {
    const made = platform.exchange(String(JSON.parse(body).code));
    json(made ? 200 : 400, made ? { access_token: made } : { error: "unknown code" });
    return;
  }
  if (!platform.knows(token)) {
    json(401, { error: "sign in first" });
    return;
  }
  const [, what, id = "", part] = url.pathname.split("/");
  const found = platform.forms().find((f) => f.id === id);
  if (what === "accounts") json(200, { items: platform.accounts() });
  else if (what !== "forms" || !found) json(404, { error: "no such form" });
  else if (part === "webhook") json(200, { secret: platform.listen(id, String(JSON.parse(body).url)) });
  else if (part === "submissions")
    json(200, { items: platform.submissions(id, Date.parse(url.searchParams.get("since") ?? "1970-01-01")) });
  else json(200, found);
}

/** Put the platform on the loopback. */
export async function startAdPlatform(
  platform: AdPlatform,
): Promise<{ url: string; close: () => Promise<void> }> {
  const server = createServer(async (request, response) => {
    try {
      const token = /^Bearer (.+)$/.exec(request.headers.authorization ?? "")?.[1] ?? "";
      const url = new URL(request.url ?? "/", "http://platform");
      serve(platform, response, request.method ?? "GET", url, await bodyOf(request), token);
    } catch {
      response.writeHead(400).end();
    }
  });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  const { port } = server.address() as AddressInfo;
  return {
    url: `http://127.0.0.1:${port}`,
    close: () =>
      new Promise((resolve) => {
        platform.stop();
        server.closeAllConnections();
        server.close(() => resolve());
      }),
  };
}
