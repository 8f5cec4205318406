import { changeFields } from "../../../../../core/setup/change-sources.ts";
import { endpoint, refusal } from "../../../../api/endpoint.ts";
import { FieldsSetup } from "../../../../wire/setup-schemas.ts";

/** The company's own fields, what its tags mean, and how much each fact weighs; with its products, to choose from. */
export const GET = endpoint(null, ({ desk }) => {
  const { fields, tags, completeness, products } = desk.setup.policies;
  return { fields, tags, completeness, products: products.map(({ key, name }) => ({ key, name })) };
});

export const POST = endpoint(FieldsSetup, ({ desk, me, body }) => {
  const changed = changeFields(desk.setup, body);
  if (!changed.ok) return refusal(changed.problem);
  desk.changeSetup(changed.setup, me.id);
  const { fields, tags, completeness } = changed.setup.policies;
  return { fields, tags, completeness };
});
