import { isTheirs } from "../../core/access/access.ts";
import {
  type Company,
  type Contact,
  isCompany,
  isContact,
  isDeal,
  type Rec,
} from "../../core/book/records.ts";
import { BookAct, undoBook } from "../../core/desk/deals.ts";
import { Draft } from "../../core/desk/plan.ts";
import type { Hook } from "../../core/policy/hooks.ts";
import type { Setup } from "../../core/policy/setup.ts";
import { type Problem, refuse } from "../../core/refusal.ts";
import type { Changed } from "../../core/setup/change.ts";
import { changeHooks } from "../../core/setup/change-hooks.ts";
import type { StandsIn } from "../../core/setup/change-stages.ts";
import type { Engine } from "../engine/engine.ts";
import { type Hooks, newSecret } from "../hooks/hooks.ts";
import type { Office } from "../setup/office.ts";

interface Page {
  readonly like: string;
  /** Id of the last of the page before. */
  readonly after: string | null;
  readonly limit: number;
  /** Only what somebody has to do with; null for all. */
  readonly of: string | null;
}

export interface SaveHook extends Omit<Hook, "id"> {
  readonly id?: string | undefined;
  readonly secret?: string | undefined;
  readonly remove?: boolean | undefined;
}

export type SavedHook =
  | { readonly ok: true; readonly id: string | null; readonly secret: string | null }
  | { readonly ok: false; readonly problem: Problem };

const BECAUSE = "the stage is gone";

/** What is done with customers and deals beside single decisions: by many, over the set-up, to other systems. */
export class Customers {
  readonly #desk: Engine;
  readonly #office: Office;
  readonly #hooks: Hooks;

  constructor(desk: Engine, office: Office, hooks: Hooks) {
    this.#desk = desk;
    this.#office = office;
    this.#hooks = hooks;
  }

  /** Change the stages, and move what stands in those that are gone: each by an event of its own, with the change or not at all. */
  changeStages(
    by: string,
    decide: (setup: Setup, standing: StandsIn) => Changed,
    moves: Readonly<Record<string, string>>,
  ): Changed {
    const { reader, looker, sql } = this.#desk;
    const standing = { lead: reader.leadsInStages(), deal: looker.book.dealsInStages() };
    return sql.transaction(() => {
      const changed = this.#office.change(by, (setup) => decide(setup, standing));
      if (!changed.ok) return changed;
      const keys = new Set(changed.setup.policies.stages.map((s) => s.key));
      for (const [from, to] of Object.entries(moves)) if (!keys.has(from)) this.#moveAll(by, from, to);
      return changed;
    });
  }

  #moveAll(by: string, from: string, to: string): void {
    const actor = { kind: "person", id: by } as const;
    const { reader, looker } = this.#desk;
    for (const id of reader.leadsInStage(from))
      this.#desk.act(id, (world) =>
        new Draft(world, actor).add("staged", { from, to, because: BECAUSE }).done(),
      );
    for (const id of looker.book.dealsInStage(from))
      this.#desk.actBook(null, (world) => {
        const act = new BookAct(world, actor);
        const deal = act.book.record(id);
        const end =
          isDeal(deal) && deal.closed ? { kind: deal.closed.kind, reason: deal.closed.reason } : null;
        act.book.add(id, "moved", { from, to, end, because: BECAUSE });
        return act.done();
      });
  }

  /** Companies or contacts by name, a page at a time. */
  list(kind: "company", page: Page): { items: Company[]; next: string | null };
  list(kind: "contact", page: Page): { items: Contact[]; next: string | null };
  list(kind: "company" | "contact", { like, after, limit, of }: Page): { items: Rec[]; next: string | null } {
    const { book } = this.#desk.looker;
    const items: Rec[] = [];
    let cursor = after;
    // Of what is theirs alone there may be little among many: looked for in steps.
    for (let i = 0; i < 50 && items.length <= limit; i++) {
      const step = book.list(kind, { like, after: cursor, limit: of === null ? limit + 1 : 200 });
      items.push(...step.filter((rec) => of === null || this.isTheirs(rec, of)));
      cursor = step.at(-1)?.id ?? null;
      if (of === null || step.length < 200) break;
    }
    const page = items.slice(0, limit).filter((r) => isCompany(r) || isContact(r));
    return { items: page, next: items.length > limit ? (page.at(-1)?.id ?? null) : null };
  }

  /** Companies, contacts and deals by words of their name, for somebody alone or (null) for all; what moved last first. */
  named(typed: string, { of, limit }: Pick<Page, "of" | "limit">): Rec[] {
    const words = typed.toLowerCase().split(/\s+/).filter(Boolean).slice(0, 8);
    if (words.length === 0) return [];
    const found = this.#desk.looker.book.named(words, of === null ? limit : 100);
    return found.filter((rec) => of === null || this.isTheirs(rec, of)).slice(0, limit);
  }

  /** Whether somebody has to do with a record: a deal of it is theirs, or a lead it came from. */
  isTheirs(rec: Rec, personId: string): boolean {
    const { looker } = this.#desk;
    const { book } = looker;
    if (rec.kind === "deal" && (rec.ownerId === personId || rec.tasks.some((t) => t.to.includes(personId))))
      return true;
    const lead = (id: string) => {
      const found = looker.lead(looker.survivor(id));
      return found !== null && isTheirs(found, personId);
    };
    if (rec.leadIds.some(lead)) return true;
    if (rec.kind === "deal") return false;
    const owned = book.dealsOf(rec.id).some((id) => {
      const deal = book.record(id);
      return isDeal(deal) && this.isTheirs(deal, personId);
    });
    return (
      owned || (rec.kind === "company" && book.contactsOf(rec.id).some((c) => this.isTheirs(c, personId)))
    );
  }

  /** The lead a deal came from, as it goes on now; null when it came from none. */
  leadOfDeal(dealId: string): string | null {
    const deal = this.#desk.looker.book.record(dealId);
    const from = isDeal(deal) ? deal.leadIds[0] : undefined;
    const id = from === undefined ? null : this.#desk.looker.survivor(from);
    return id !== null && this.#desk.looker.lead(id) ? id : null;
  }

  /** Take back an act on a deal, with what it did to the lead. Null when it is done, else why not. */
  undoDeal(dealId: string, by: string, actId: string): Problem | null {
    const { looker, reader } = this.#desk;
    if (!looker.book.events(dealId).some((e) => e.actId === actId))
      return refuse("cant-be-undone", 409, "Can't be undone", "This deal has no such act.").problem;
    const leadId = this.leadOfDeal(dealId);
    const touchedLead = leadId !== null && reader.events(leadId).some((e) => e.actId === actId);
    const result = touchedLead
      ? this.#desk.undo(leadId, by, actId)
      : this.#desk.actBook(null, (world) => undoBook(world, by, actId));
    return result.ok ? null : result.problem;
  }

  /** Tell other systems of a deal once more, as of a lead that was handed over. Gives how many are told. */
  sendOn(dealId: string): number {
    const { looker, sql, clock } = this.#desk;
    const leadId = this.leadOfDeal(dealId);
    const told = [{ event: "lead.handed-over" as const, leadId, dealId }];
    const queued = sql.transaction(() =>
      this.#hooks.queue(told, leadId === null ? null : looker.lead(leadId), clock.now()),
    );
    this.#hooks.kick();
    return queued;
  }

  /** Add, change or remove a system that is told. A new one without a secret gets one, which is given back this once. */
  saveHook(by: string, { secret, remove, id, ...hook }: SaveHook): SavedHook {
    const { hooks } = this.#desk.setup.policies;
    const known = id ? hooks.find((h) => h.id === id) : undefined;
    if (id && !known)
      return refuse("no-such-system", 404, "No such system", "There is no system with that id.");
    if (secret && !/^whsec_[A-Za-z0-9+/]{24,128}={0,2}$/.test(secret))
      return refuse(
        "not-a-secret",
        422,
        "Not a secret",
        "A secret begins with whsec_, followed by 24 bytes or more in base64.",
        "secret",
      );
    const key = known?.id ?? this.#desk.newId("hook");
    const others = hooks.filter((h) => h.id !== key);
    const next = remove
      ? others
      : known
        ? hooks.map((h) => (h.id === key ? { ...hook, id: key } : h))
        : [...hooks, { ...hook, id: key }];
    const changed = this.#office.change(by, (setup) => changeHooks(setup, next));
    if (!changed.ok) return changed;
    if (remove) return { ok: true, id: null, secret: null };
    const made = secret ?? (this.#hooks.secrets.has(key) ? null : newSecret());
    if (made) this.#hooks.secrets.keep(key, made);
    return { ok: true, id: key, secret: secret ? null : made };
  }
}
