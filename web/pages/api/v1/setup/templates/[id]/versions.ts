import { nameOf } from "../../../../../../../core/policy/setup.ts";
import { problem, serve } from "../../../../../../api/endpoint.ts";
import { iso } from "../../../../../../wire/shape.ts";

/** What a template said before, newest first; also of one that is gone. */
export const GET = serve("GET /setup/templates/[id]/versions", ({ desk, params }) => {
  const id = params.id ?? "";
  const versions = desk.templateRecord.versions(id);
  if (versions.length === 0 && !desk.setup.policies.templates.some((t) => t.id === id))
    return problem("no-such-template", 404, "No such template", "There is no template with that id.");
  const items = versions.map(({ at, by, template }) => ({
    at: iso(at),
    by: by && nameOf(desk.setup, by),
    template,
  }));
  return { items, next: null };
});
