import { stageName } from "../../../../core/policy/stages.ts";
import { limitOf, serve } from "../../../api/endpoint.ts";
import { toLead } from "../../../wire/shape.ts";

/** So many companies, contacts and deals are named beside the leads. */
const RECORDS = 4;

export const GET = serve("GET /search", ({ desk, me, rights, query }) => {
  const of = rights.has("leads.all") ? null : me.id;
  const typed = query.get("q") ?? "";
  const hits = desk.search.find(typed, { of, limit: limitOf(query) });
  return {
    items: hits.map(({ lead, at, marks, ...hit }) => ({
      ...hit,
      kind: "lead" as const,
      id: lead.id,
      at: at === null ? null : new Date(at).toISOString(),
      marks: marks.map(([from, to]): [number, number] => [from, to]),
      lead: toLead(lead),
    })),
    records: desk.customers.named(typed, { of, limit: RECORDS }).map((rec) => ({
      kind: rec.kind,
      id: rec.id,
      name: rec.name,
      said: rec.kind === "deal" ? stageName(desk.setup.policies, rec.stage) : rec.kind,
    })),
    next: null,
    behind: desk.search.index.behind(),
  };
});
