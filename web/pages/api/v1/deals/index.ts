import { newDeal } from "../../../../../core/desk/customers.ts";
import { firstDealStage } from "../../../../../core/desk/hand-over.ts";
import { recordOf } from "../../../../../core/report/board.ts";
import { dealOf, isCustomerOf } from "../../../../api/book.ts";
import { limitOf, problem, refusal, serve } from "../../../../api/endpoint.ts";
import { dealsFor, toCard, toDeal } from "../../../../wire/shape-deals.ts";

export const GET = serve("GET /deals", ({ desk, me, rights, query }) => {
  const { open, closed, closedMine } = dealsFor(desk, me.id, rights.has("leads.all"));
  const like = (query.get("q") ?? "").toLowerCase();
  const found = (query.get("closed") === "true" ? closedMine : open).filter((d) =>
    d.name.toLowerCase().includes(like),
  );
  const limit = limitOf(query);
  const from = Math.max(0, found.findIndex((d) => d.id === query.get("cursor")) + 1);
  const page = found.slice(from, from + limit);
  const all = [...open, ...closed];
  const records = new Map([...new Set(page.map((d) => d.stage))].map((s) => [s, recordOf(s, all)]));
  return {
    items: page.map((deal) => toCard(desk, deal, records.get(deal.stage)!)),
    next: from + limit < found.length ? (page.at(-1)?.id ?? null) : null,
  };
});

export const POST = serve("POST /deals", ({ desk, me, rights, body }) => {
  const { contactId = null, companyId = null } = body;
  for (const id of [contactId, companyId])
    if (id && !isCustomerOf(desk, { me, rights }, id))
      return problem(
        "not-in-the-book",
        404,
        "Not in the book",
        "There is no company or contact with that id.",
      );
  const stage = firstDealStage(desk.setup).key;
  const made = desk.actBook(null, (world) =>
    newDeal(world, me.id, { contactId, companyId, name: body.name }, stage),
  );
  if (!made.ok) return refusal(made.problem);
  const deal = dealOf(desk, made.plan.book[0]?.after.id);
  return deal.ok ? { ...toDeal(desk, deal.record), actId: made.plan.actId } : refusal(deal.problem);
});
