import { z } from "zod";
import type { Written } from "../../../../../core/desk/learn.ts";
import type { Lead } from "../../../../../core/lead/lead.ts";
import { cellsOf } from "../../../../../core/words/columns.ts";
import { holder } from "../../../../../core/words/holder.ts";
import type { Desk } from "../../../../../server/desk.ts";
import { leadFor } from "../../../../api/belongs.ts";
import { answer, json, limitOf, problem, refusal, serve } from "../../../../api/endpoint.ts";
import type { Caller } from "../../../../api/identify.ts";
import { askedList } from "../../../../api/lists.ts";
import { toLead } from "../../../../wire/shape.ts";

const Filter = z.enum(["open", "waiting", "rung", "answered", "listed", "closed"]);
const Sort = z.enum(["recent", "created"]);
/** What only a list has: leads are then found by its condition. */
const OF_LISTS = ["list", "where", "columns"];

export const GET = serve("GET /leads", ({ desk, me, rights, query }) => {
  const order = query.get("sort");
  const isList = OF_LISTS.some((name) => query.has(name)) || (order && !Sort.safeParse(order).success);
  if (isList) return listed(desk, { me, rights }, query);
  const filter = Filter.optional().safeParse(query.get("filter") || undefined);
  if (!filter.success)
    return problem(
      "no-such-filter",
      422,
      "No such filter",
      `filter: give one of ${Filter.options.join(", ")}.`,
      [{ path: "filter", message: "unknown" }],
    );
  const sort = Sort.optional().safeParse(query.get("sort") || undefined);
  if (!sort.success)
    return problem("no-such-order", 422, "No such order", `sort: give one of ${Sort.options.join(", ")}.`, [
      { path: "sort", message: "unknown" },
    ]);
  const page = desk.reader.leads({
    limit: limitOf(query),
    ...(query.get("owner") && { theirs: query.get("owner")! }),
    ...(!rights.has("leads.all") && { theirs: me.id }),
    ...(query.get("q") && { q: query.get("q")! }),
    ...(filter.data && { filter: filter.data }),
    ...(sort.data && { sort: sort.data }),
    ...(query.get("cursor") && { cursor: query.get("cursor")! }),
  });
  return { items: page.items.map(toLead), next: page.next };
});

function listed(desk: Desk, asks: Pick<Caller, "me" | "rights">, query: URLSearchParams) {
  const asked = askedList(desk, asks, query);
  if ("code" in asked) return refusal(asked);
  const cursor = query.get("cursor");
  const { items, next } = desk.lists.listing.page(asked.listed, limitOf(query), cursor);
  const now = desk.clock.now();
  return {
    items: items.map((lead) => ({ ...toLead(lead), cells: cellsOf(lead, asked.columns, desk.setup, now) })),
    next,
    // Counted once, with the first page.
    ...(!cursor && { count: desk.lists.listing.count(asked.listed) }),
  };
}

/**
 * Enter somebody by hand. A known number or address joins them to their lead; of a lead that is nobody's business of
 * whoever enters it they learn only that it is known, and who has it.
 */
export const POST = serve("POST /leads", ({ desk, me, rights, body }) => {
  if (body.ownerId && body.ownerId !== me.id && !rights.has("leads.move"))
    return problem(
      "not-yours-to-do",
      403,
      "Not yours to do",
      "You may take it yourself, or have it routed.",
      [{ path: "ownerId", message: "Only coordinators and managers give leads to others." }],
    );
  const { sources } = desk.setup;
  const source = body.sourceId
    ? sources.find((s) => s.id === body.sourceId || s.key === body.sourceId)
    : sources.find((s) => s.channel === "hand");
  if (!source)
    return problem("no-such-source", 422, "No such source", "`sourceId` names no source.", [
      { path: "sourceId", message: "unknown" },
    ]);
  const said = {
    name: body.name,
    phone: body.phone,
    email: body.email,
    company: body.company,
    message: body.note,
  };
  const fields = {
    ...body.facts,
    ...Object.fromEntries(Object.entries(said).filter((e): e is [string, string] => !!e[1])),
  };
  const goesTo = body.ownerId
    ? ({ kind: "person", id: body.ownerId } as const)
    : ({ kind: body.route ? "rules" : "list" } as const);
  const more = body.more as Written | undefined;
  const asks = { me, rights };
  const maySee = (lead: Lead) => leadFor(desk, asks, lead.id) !== null;
  const entered = desk.byHand.enter({ by: me.id, fields, source, goesTo, maySee, ...(more && { more }) });
  if (!entered.ok || !entered.plan.before || maySee(entered.plan.before)) return answer(entered, 201);
  const { after } = entered.plan;
  return json({ known: true, has: holder(desk.setup, after) }, 201);
});
