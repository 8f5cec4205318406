import { DateTime } from "luxon";
import { MemoryDesk } from "../../core/desk/memory.ts";
import type { Decided, Plan } from "../../core/desk/plan.ts";
import { type Inquiry, receive } from "../../core/desk/receive.ts";
import { understand } from "../../core/intake/understand.ts";
import type { EventKind, LeadEvent } from "../../core/lead/events.ts";
import type { Lead } from "../../core/lead/lead.ts";
import type { Policies, Setup } from "../../core/policy/setup.ts";
import { tarnholt } from "../../demo/tarnholt.ts";

export const MIN = 60_000;
export const HOUR = 60 * MIN;
export const DAY = 24 * HOUR;

const zone = "America/Denver";

/** The instant of a wall time at the demo company's desk (epoch ms). */
export const atDesk = (iso: string) => DateTime.fromISO(iso, { zone }).toMillis();
/** An instant as the desk's wall shows it: `Wed 09:03:00`. */
export const wall = (ms: number | null | undefined) =>
  ms ? DateTime.fromMillis(ms, { zone }).toFormat("ccc HH:mm:ss") : null;

/** The demo company with some policies of its own. */
export const companyWith = (policies: Partial<Policies>): Setup => ({
  ...tarnholt,
  policies: { ...tarnholt.policies, ...policies },
});

/** The plan of a decision that must not have been refused. */
export function planOf(decided: Decided): Plan {
  if (!decided.ok) throw new Error(decided.problem.detail);
  return decided.plan;
}

/** A desk in memory with what tests ask of one lead. */
export class Bench {
  readonly desk: MemoryDesk;
  #made = 0;

  constructor(setup: Setup = tarnholt, now = atDesk("2026-03-04T09:00:00")) {
    this.desk = new MemoryDesk(setup, now);
  }

  /** An inquiry by the website; gives the lead's id. */
  arrive(
    fields: Record<string, string> = {},
    leadId: string | null = null,
    more: Partial<Inquiry> = {},
  ): string {
    const source = this.desk.setup.sources.find((s) => s.key === "plan-your-sauna")!;
    const n = ++this.#made;
    const said = { name: `Ana Ruiz${n}`, phone: `303555${1000 + n}`, product: "barrel", ...fields };
    const understood = understand(source, this.desk.setup.policies, said);
    if (!understood.ok) throw new Error(understood.reason);
    const inquiry = {
      inquiryId: `inq_${n}`,
      source,
      facts: understood.facts,
      matchedOn: leadId && "phone",
      by: { kind: "lead" },
      goesTo: { kind: "rules" },
      ...more,
    } as const;
    return planOf(this.desk.commit(receive(this.desk.look(leadId), inquiry))).leadId;
  }

  /** Decide something about a lead; it must not be refused. */
  act(id: string, decide: (world: ReturnType<MemoryDesk["look"]>) => Decided): Plan {
    return planOf(this.desk.commit(decide(this.desk.look(id))));
  }

  lead(id: string): Lead {
    return this.desk.leads.get(id)!;
  }

  events<K extends EventKind>(id: string, kind: K): Extract<LeadEvent, { kind: K }>[] {
    return this.desk.events.get(id)!.filter((e) => e.kind === kind) as Extract<LeadEvent, { kind: K }>[];
  }

  /** Every rung that was climbed or left out, with its time: `Wed 09:05:00 ring`. */
  rungs(id: string): string[] {
    const usual = { nudged: "nudge", rang: "ring", "stood-by": "standby" } as const;
    return this.desk.events.get(id)!.flatMap((e) => {
      if (e.kind in usual) return [`${wall(e.at)} ${usual[e.kind as keyof typeof usual]}`];
      if (e.kind !== "climbed") return [];
      const of = e.data.bell === "inquiry" ? "" : ` (${e.data.bell})`;
      return [`${wall(e.at)} ${e.data.act}${of}${e.data.skipped ? `: ${e.data.skipped}` : ""}`];
    });
  }
}
