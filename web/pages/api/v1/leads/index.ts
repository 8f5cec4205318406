import { z } from "zod";
import type { Written } from "../../../../../core/desk/learn.ts";
import { answer, endpoint, limitOf, problem } from "../../../../api/endpoint.ts";
import { Entry } from "../../../../wire/setup-schemas.ts";
import { toLead } from "../../../../wire/shape.ts";

const Filter = z.enum(["open", "waiting", "rung", "answered", "listed", "closed"]);
const Sort = z.enum(["recent", "created"]);

export const GET = endpoint(null, ({ desk, me, rights, query }) => {
  const filter = Filter.optional().safeParse(query.get("filter") || undefined);
  if (!filter.success)
    return problem(422, "No such filter", `filter: give one of ${Filter.options.join(", ")}.`, [
      { path: "filter", message: "unknown" },
    ]);
  const sort = Sort.optional().safeParse(query.get("sort") || undefined);
  if (!sort.success)
    return problem(422, "No such order", `sort: give one of ${Sort.options.join(", ")}.`, [
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

export const POST = endpoint(Entry, ({ desk, me, body }) => {
  const { sources } = desk.setup;
  const source = body.sourceId
    ? sources.find((s) => s.id === body.sourceId || s.key === body.sourceId)
    : sources.find((s) => s.channel === "hand");
  if (!source)
    return problem(422, "No such source", "`sourceId` names no source.", [
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
  return answer(desk.enter({ by: me.id, fields, source, goesTo, ...(more && { more }) }), 201);
});
