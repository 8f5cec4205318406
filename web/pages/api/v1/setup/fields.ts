import { changeFields } from "../../../../../core/setup/change-sources.ts";
import { refusal, serve } from "../../../../api/endpoint.ts";

/** The company's own fields, what its tags mean, and how much each fact weighs; with its products, to choose from. */
export const GET = serve("GET /setup/fields", ({ desk }) => {
  const { fields, tags, completeness, products } = desk.setup.policies;
  return { fields, tags, completeness, products: products.map(({ key, name }) => ({ key, name })) };
});

export const POST = serve("POST /setup/fields", ({ desk, me, body }) => {
  const changed = changeFields(desk.setup, body);
  if (!changed.ok) return refusal(changed.problem);
  desk.changeSetup(changed.setup, me.id);
  const { fields, tags, completeness } = changed.setup.policies;
  return { fields, tags, completeness };
});
