import { catalogue } from "../../../../../core/lead/fields.ts";
import { listColumns, USUAL_COLUMNS } from "../../../../../core/words/columns.ts";
import { json, refusal, serve } from "../../../../api/endpoint.ts";
import { toSavedList } from "../../../../api/lists.ts";

export const GET = serve("GET /lists", ({ desk, me, rights, query }) => ({
  items: desk.lists
    .seenBy({ me, rights })
    .filter((list) => list.pinned || !query.has("pinned"))
    .map((list) => toSavedList(desk, { me, rights }, list)),
  next: null,
  columns: [...listColumns(desk.setup)],
  usual: [...USUAL_COLUMNS],
  catalogue: catalogue(desk.setup).map(({ operators, choices, ...field }) => ({
    ...field,
    operators: [...operators],
    choices: [...choices],
  })),
}));

export const POST = serve("POST /lists", ({ desk, me, rights, body }) => {
  const saved = desk.lists.save({ me, rights }, body);
  return saved.ok ? json(toSavedList(desk, { me, rights }, saved.list), 201) : refusal(saved.problem);
});
