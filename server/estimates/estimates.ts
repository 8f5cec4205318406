import { drawEstimate, type EstimateOrder, makeEstimate } from "../../core/desk/estimates.ts";
import type { Decided } from "../../core/desk/plan.ts";
import type { Estimate } from "../../core/lead/lead.ts";
import { type Problem, refuse } from "../../core/refusal.ts";
import type { Attachment } from "../../core/vocabulary.ts";
import type { Engine, Result } from "../engine/engine.ts";
import { printEstimate } from "./print.ts";

/** How often a document is printed again because its number went to another meanwhile. */
const TRIES = 5;

export type Made =
  | { readonly ok: true; readonly estimate: Estimate; readonly actId: string }
  | { readonly ok: false; readonly problem: Problem };

/** Makes estimates: worked out in core, printed, and kept with their document under a number of their own. */
export class Estimates {
  readonly #desk: Engine;

  constructor(desk: Engine) {
    this.#desk = desk;
  }

  /** An estimate as a PDF, as it would be made now; nothing is kept of it. */
  async preview(leadId: string, by: string, order: EstimateOrder): Promise<Buffer | Problem> {
    const drawn = drawEstimate(this.#desk.look(leadId), by, order);
    return drawn.ok ? this.#print(leadId, drawn.estimate) : drawn.problem;
  }

  /** Work an estimate out, print it, and keep both by one act. */
  async make(leadId: string, by: string, order: EstimateOrder): Promise<Made> {
    for (let i = 0; i < TRIES; i++) {
      const drawn = drawEstimate(this.#desk.look(leadId), by, order);
      if (!drawn.ok) return drawn;
      const file = await this.#keep(leadId, by, drawn.estimate);
      let taken = false;
      const result: Result = this.#desk.act(leadId, (world): Decided => {
        const made = makeEstimate(world, by, order, drawn.estimate, file);
        if (made) return made;
        taken = true;
        return numberTaken();
      });
      if (result.ok) return { ok: true, estimate: { ...drawn.estimate, file }, actId: result.plan.actId };
      if (!taken) return result;
    }
    return numberTaken();
  }

  /** The lead an estimate is of; null when there is no such estimate. */
  leadOf(estimateId: string): string | null {
    const { sql, looker } = this.#desk;
    const row = sql.get(sql.q.selectFrom("estimates").select("leadId").where("id", "=", estimateId));
    return row ? looker.survivor(row.leadId) : null;
  }

  async #print(leadId: string, estimate: Estimate): Promise<Buffer> {
    const { setup, looker, files } = this.#desk;
    const lead = looker.lead(leadId)!;
    const { logo } = setup.policies.company;
    const printable = logo && (logo.type === "image/png" || logo.type === "image/jpeg");
    const picture = printable ? (files.read(logo.fileId)?.bytes ?? null) : null;
    return printEstimate({ setup, lead, estimate, logo: picture });
  }

  async #keep(leadId: string, by: string, estimate: Estimate): Promise<Attachment> {
    const bytes = await this.#print(leadId, estimate);
    const version = estimate.version > 1 ? `-${estimate.version}` : "";
    return this.#desk.files.keep(bytes, `estimate-${estimate.number}${version}.pdf`, "application/pdf", by);
  }
}

const numberTaken = () =>
  refuse(
    "number-taken",
    409,
    "The number is taken",
    "Other estimates were made at the same moment. Nothing was kept of this one: make it again.",
  );
