import { clicked, visited } from "../../core/desk/hear.ts";
import type { Engine } from "../engine/engine.ts";

/** The same page looked at again within so long (ms) is the same look. */
const SAME_VIEW = 30 * 60_000;
const VIEWS_KEPT = 10_000;

/** Links in our messages that are opened, and the company’s own pages that are looked at after it. */
export class Opened {
  readonly #engine: Engine;
  /** When each page was last looked at by whom: looking again and again is one signal. */
  readonly #seen = new Map<string, number>();

  constructor(engine: Engine) {
    this.#engine = engine;
  }

  /** A link of ours was opened: told in the thread each time a person presses it. Gives where it leads. */
  open(code: string): string | null {
    const { links, sql } = this.#engine;
    const n = links.readShort(code);
    const link =
      n === null ? undefined : sql.get(sql.q.selectFrom("shortLinks").selectAll().where("n", "=", n));
    if (!link) return null;
    const { messageId, url } = link;
    this.#engine.act(
      this.#engine.looker.survivor(link.leadId),
      (world) => clicked(world, messageId, url),
      () =>
        sql.run(
          sql.q
            .updateTable("shortLinks")
            .set((eb) => ({ clicks: eb("clicks", "+", 1) }))
            .where("n", "=", link.n),
        ),
    );
    return this.#toOwnSite(url, this.#engine.looker.survivor(link.leadId));
  }

  /** A page of the company's own is told who comes; whether it may remember that is asked there. */
  #toOwnSite(url: string, leadId: string): string {
    const { sites } = this.#engine.setup.policies;
    if (!URL.canParse(url) || !sites.includes(new URL(url).host)) return url;
    const page = new URL(url);
    page.searchParams.set("kb", this.#engine.links.visitor(leadId));
    return page.href;
  }

  /** Somebody known looked at one of the company's own pages. False when the name is not ours, or the page. */
  visit(visitor: string, page: string): boolean {
    const { links, setup, looker } = this.#engine;
    const leadId = links.readVisitor(visitor);
    const { host, pathname } = new URL(page);
    if (!leadId || !setup.policies.sites.includes(host)) return false;
    const url = `${host}${pathname}`;
    const seen = `${leadId} ${url}`;
    const now = this.#engine.clock.now();
    if (now - (this.#seen.get(seen) ?? Number.NEGATIVE_INFINITY) < SAME_VIEW) return true;
    if (this.#seen.size >= VIEWS_KEPT) this.#seen.clear();
    this.#seen.set(seen, now);
    return this.#engine.act(looker.survivor(leadId), (world) => visited(world, url)).ok;
  }
}
