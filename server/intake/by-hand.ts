import { learn, type Written } from "../../core/desk/learn.ts";
import type { World } from "../../core/desk/plan.ts";
import { receive } from "../../core/desk/receive.ts";
import { bounded, writtenDown } from "../../core/intake/fields.ts";
import { NOTHING_SAID, understand } from "../../core/intake/understand.ts";
import type { Lead, MaybeSame } from "../../core/lead/lead.ts";
import type { Source } from "../../core/policy/source.ts";
import { refuse } from "../../core/refusal.ts";
import type { Engine, Result } from "../engine/engine.ts";
import { Refusal } from "../engine/refusal.ts";
import type { Intake } from "./intake.ts";

/** An inquiry written down by somebody of ours. */
export interface HandEntry {
  readonly by: string;
  readonly fields: Readonly<Record<string, string>>;
  readonly source: Source;
  readonly goesTo: { kind: "rules" } | { kind: "person"; id: string } | { kind: "list" };
  /** What the form of the entry cannot say: kinds of phones, ways they must not be reached, related people. */
  readonly more?: Written;
  /** Whether whoever enters it may see a lead: of one they may not, nothing is changed or told. */
  readonly maySee?: (lead: Lead) => boolean;
}

/** What somebody of ours writes down. */
export class ByHand {
  readonly #engine: Engine;
  readonly #intake: Intake;

  constructor(engine: Engine, intake: Intake) {
    this.#engine = engine;
    this.#intake = intake;
  }

  /** Leads that may be or surely are the person with these facts: shown while somebody types. */
  whoMayBe(
    source: Source,
    fields: Readonly<Record<string, string>>,
  ): { sure: Lead | null; likely: MaybeSame[]; unread: readonly string[] } {
    const understood = understand(source, this.#engine.setup.policies, fields);
    if (!understood.ok) return { sure: null, likely: [], unread: understood.unread };
    const { facts } = understood;
    const unread = facts.unread ?? [];
    const sure = this.#engine.looker.match([...facts.phones, ...facts.emails]);
    return {
      sure: sure && this.#engine.looker.lead(sure.leadId),
      likely: sure ? [] : this.#engine.looker.likely(facts),
      unread,
    };
  }

  /** Enter an inquiry by hand. A known phone number or address joins it to its lead. */
  enter(entry: HandEntry): Result {
    const { by, source } = entry;
    const fields = bounded(entry.fields);
    const understood = fields && understand(source, this.#engine.setup.policies, fields);
    if (!fields || !understood?.ok)
      return refuse(
        "no-way-to-tell-who-it-is",
        422,
        "No way to tell who it is",
        "Give a name, a phone number or a mail address that can be used.",
        "phone",
      );
    const { facts } = understood;
    const match = this.#engine.looker.match([...facts.phones, ...facts.emails]);
    const known = match && this.#engine.looker.lead(match.leadId);
    const unseen = known && entry.maySee?.(known) === false;
    const goesTo = unseen ? ({ kind: "rules" } as const) : entry.goesTo;
    const more = unseen ? undefined : entry.more;
    const id = this.#engine.newId("inq");
    const decide = (world: World) =>
      receive(world, {
        inquiryId: id,
        source,
        facts: unseen ? NOTHING_SAID : facts,
        ...(unseen && { unseen: writtenDown(fields), unanswered: "somebody of ours wrote it down" }),
        matchedOn: match?.on ?? null,
        by: { kind: "person", id: by },
        goesTo,
        likely: match ? [] : this.#engine.looker.likely(facts),
      });
    return this.#engine.act(match?.leadId ?? null, decide, (plan) => {
      this.#engine.sql.run(
        this.#engine.sql.q.insertInto("inquiries").values({
          id,
          sourceId: source.id,
          receivedAt: this.#engine.clock.now(),
          dedupe: null,
          fingerprint: null,
          contentType: "application/json",
          headersJson: "{}",
          raw: Buffer.from(JSON.stringify(fields)),
          state: "understood",
          reason: null,
          leadId: plan.leadId,
          matched: plan.before ? "sure" : "new",
        }),
      );
      this.#intake.countArrivals(source.id, this.#engine.clock.now(), 1);
      if (!more) return;
      const learned = learn(this.#engine.looker.look(plan.leadId), more, by);
      if (!learned.ok) throw new Refusal(learned.problem);
      if (learned.plan.events.length > 0) this.#engine.commit(learned.plan);
    });
  }
}
