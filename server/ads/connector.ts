import { randomBytes } from "node:crypto";
import { z } from "zod";
import type { Source } from "../../core/policy/source.ts";
import { Sealer } from "../db/sealer.ts";
import type { Desk } from "../desk.ts";

const Question = z.object({ field: z.string(), label: z.string() });
const Form = z.object({ id: z.string(), name: z.string(), questions: z.array(Question) });
const Accounts = z.object({
  items: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      pages: z.array(
        z.object({
          id: z.string(),
          name: z.string(),
          forms: z.array(z.object({ id: z.string(), name: z.string() })),
        }),
      ),
    }),
  ),
});
const Submissions = z.object({ items: z.array(z.record(z.string(), z.unknown())) });

export type AdAccounts = z.infer<typeof Accounts>["items"];
export type AdFormDetails = z.infer<typeof Form>;

/** The platform could not be asked, in words for a person. */
export class NotConnected extends Error {}

/** Under which names it is kept what was entered and given: all of it sealed. */
const TOKEN = "ads-token-sealed";
const ADDRESS = "ads-url-sealed";
/** By whom it was connected, and when. */
const CONNECTED = "ads-connected";
/** Where the token lay before it was sealed. */
const UNSEALED = "ads-token";

const Since = z.object({ by: z.string().nullable(), at: z.number() });
/** How far back before the last time a catch-up looks (ms): what was on its way to the platform's record just then. */
const OVERLAP = 3_600_000;
const HOW_LONG = 10_000;
/** How often what the platform could not deliver is asked for (ms). */
const CATCH_UP = 900_000;
/** So many sign-ins may be under way at once. */
const MOST_STATES = 100;

/**
 * Speaks to the ad platform: connects by its own sign-in, lists accounts, pages and forms by name, asks for deliveries,
 * and fetches what was missed while the desk was down.
 */
export class AdConnector {
  readonly #desk: Desk;
  readonly #started: string | null;
  readonly #sealer: Sealer;
  readonly #states = new Map<string, number>();
  #handle: NodeJS.Timeout | null = null;

  /** `started` is the platform's address as said when the desk was started, which goes before what is entered; null for none. */
  constructor(desk: Desk, started: string | null, sealer: Sealer = new Sealer(null)) {
    this.#desk = desk;
    this.#started = started;
    this.#sealer = sealer;
    const open = desk.kept.secret(UNSEALED);
    if (open !== null) {
      this.#keep(TOKEN, open);
      desk.kept.dropSecret(UNSEALED);
    }
  }

  #keep(name: string, value: string): void {
    this.#desk.kept.keepSecret(name, this.#sealer.seal(value));
  }

  #kept(name: string): string | null {
    const sealed = this.#desk.kept.secret(name);
    return sealed === null ? null : this.#sealer.open(sealed);
  }

  /** Where the platform is, and who said so; null when nobody has. */
  get address(): { readonly url: string; readonly from: "environment" | "set-up" } | null {
    if (this.#started) return { url: this.#started, from: "environment" };
    const url = this.#kept(ADDRESS);
    return url === null ? null : { url, from: "set-up" };
  }

  /** Say where the platform is; null for nowhere any more. Whoever was connected elsewhere is not connected here. */
  setAddress(url: string | null): void {
    if (this.#kept(ADDRESS) === url) return;
    if (url === null) this.#desk.kept.dropSecret(ADDRESS);
    else this.#keep(ADDRESS, url);
    this.disconnect();
  }

  /** By whom it was connected, and when (epoch ms); null while it is not, or when that was not kept yet. */
  get since(): z.infer<typeof Since> | null {
    const kept = this.connected ? this.#desk.kept.secret(CONNECTED) : null;
    return kept === null ? null : (Since.safeParse(JSON.parse(kept)).data ?? null);
  }

  /** Forget the token: nothing is asked of the platform any more. What it delivers is still taken. */
  disconnect(): void {
    this.#desk.kept.dropSecret(TOKEN);
    this.#desk.kept.dropSecret(CONNECTED);
  }

  /** Fetch what was missed now, and now and then from now on. */
  start(): void {
    void this.catchUpAll();
    this.#handle = setInterval(() => void this.catchUpAll(), CATCH_UP);
    this.#handle.unref();
  }

  stop(): void {
    if (this.#handle) clearInterval(this.#handle);
  }

  get connected(): boolean {
    return this.#kept(TOKEN) !== null;
  }

  /** What is missing before a platform can be asked anything, in words; null when nothing is. */
  get missing(): string | null {
    return this.address === null
      ? "No ad platform is set up: an administrator enters its address here, or KITEBELL_ADS_URL gives it when Kite Bell is started."
      : null;
  }

  #address(): string {
    const { address } = this;
    if (address === null) throw new NotConnected(this.missing ?? "");
    return address.url;
  }

  /** Where to send a person who wants to connect. */
  authorizeUrl(redirect: string): string {
    const state = randomBytes(16).toString("base64url");
    if (this.#states.size >= MOST_STATES) this.#states.delete(this.#states.keys().next().value!);
    this.#states.set(state, Date.now());
    const url = new URL("/authorize", this.#address());
    url.searchParams.set("client", "kite-bell");
    url.searchParams.set("redirect_uri", redirect);
    url.searchParams.set("state", state);
    return url.href;
  }

  /** They came back with a code: exchange it for a token and keep it. */
  async connect(code: string, state: string, by: string | null = null): Promise<void> {
    const begun = this.#states.get(state);
    this.#states.delete(state);
    if (begun === undefined || Date.now() - begun > 900_000)
      throw new NotConnected(
        "This sign-in was not begun here, or it took more than 15 minutes. Connect again.",
      );
    const { access_token } = await this.#ask("/token", z.object({ access_token: z.string() }), { code });
    this.#keep(TOKEN, access_token);
    this.#desk.kept.keepSecret(CONNECTED, JSON.stringify({ by, at: this.#desk.clock.now() }));
    this.#desk.office.audit(by, "connected the ad platform");
  }

  async #ask<T>(
    path: string,
    schema: z.ZodType<T>,
    body?: object,
    method = body ? "POST" : "GET",
  ): Promise<T> {
    const token = this.#kept(TOKEN);
    const address = new URL(path, this.#address());
    let response: Response;
    try {
      response = await fetch(address, {
        method,
        signal: AbortSignal.timeout(HOW_LONG),
        headers: { "content-type": "application/json", ...(token && { authorization: `Bearer ${token}` }) },
        ...(body && { body: JSON.stringify(body) }),
      });
    } catch {
      throw new NotConnected(
        "The ad platform does not answer. Nothing is lost: what comes in meanwhile is fetched later.",
      );
    }
    if (response.status === 401) throw new NotConnected("The ad platform wants you to connect again.");
    if (!response.ok) throw new NotConnected(`The ad platform refused with ${response.status}.`);
    const read = schema.safeParse(await response.json().catch(() => null));
    if (!read.success) throw new NotConnected("The ad platform answered something that can't be read.");
    return read.data;
  }

  async accounts(): Promise<AdAccounts> {
    return (await this.#ask("/accounts", Accounts)).items;
  }

  form(formId: string): Promise<AdFormDetails> {
    return this.#ask(`/forms/${encodeURIComponent(formId)}`, Form);
  }

  /** Have the form's submissions posted to `url`. Gives the secret they will be signed with. */
  async listen(formId: string, url: string): Promise<string> {
    const path = `/forms/${encodeURIComponent(formId)}/webhook`;
    return (await this.#ask(path, z.object({ secret: z.string() }), { url }, "PUT")).secret;
  }

  /**
   * Fetch what the source may have missed and take it in as if it had been delivered: what is known already is
   * recognised by its number. Notices changed questions. Gives how many were new.
   */
  async catchUp(source: Source): Promise<{ fetched: number; fresh: number }> {
    if (!source.adForm) return { fetched: 0, fresh: 0 };
    const { formId } = source.adForm;
    const { questions } = await this.form(formId);
    this.#desk.sources.noteQuestions(source, questions);
    const asked = this.#desk.clock.now();
    const since = new Date(Math.max(0, this.#desk.sources.missedSince(source.id) - OVERLAP)).toISOString();
    const { items } = await this.#ask(
      `/forms/${encodeURIComponent(formId)}/submissions?since=${since}`,
      Submissions,
    );
    let fresh = 0;
    for (const item of items) {
      const before = this.#desk.sources.count(source.id);
      const raw = Buffer.from(JSON.stringify(item));
      await this.#desk.intake.submit(source, { contentType: "application/json", headers: {}, raw });
      if (this.#desk.sources.count(source.id) > before) fresh++;
    }
    this.#desk.sources.noteFetched(source.id, asked);
    return { fetched: items.length, fresh };
  }

  /** Catch up on every live source of the platform. What fails is told in the source's health. */
  async catchUpAll(): Promise<void> {
    if (!this.connected) return;
    for (const source of this.#desk.setup.sources) {
      if (!source.adForm || source.state !== "live") continue;
      try {
        await this.catchUp(source);
        this.#desk.sources.noteFailure(source.id, null);
      } catch (error) {
        const said = error instanceof Error ? error.message : String(error);
        try {
          this.#desk.sources.noteFailure(source.id, said);
        } catch (failed) {
          // A full disk: it is told the next time.
          this.#desk.log.error({ err: failed, said }, "an ad form's failure could not be noted");
        }
      }
    }
  }
}
