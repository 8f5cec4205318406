import { nameOf } from "../../../../../../../core/policy/setup.ts";
import { endpoint } from "../../../../../../api/endpoint.ts";
import { iso } from "../../../../../../wire/shape.ts";

export const GET = endpoint(null, ({ desk, params }) => ({
  items: desk.letters.versions(params.id ?? "").map(({ at, by, template }) => ({
    at: iso(at),
    by: by && nameOf(desk.setup, by),
    template,
  })),
  next: null,
}));
