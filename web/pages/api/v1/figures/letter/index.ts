import { changeLetter } from "../../../../../../core/setup/change-letter.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toLetter } from "../../../../../api/letter.ts";

export const GET = serve("GET /figures/letter", ({ desk }) => toLetter(desk));

export const POST = serve("POST /figures/letter", ({ desk, me, body }) => {
  const changed = desk.office.change(me.id, (setup) => changeLetter(setup, body));
  return changed.ok ? toLetter(desk) : refusal(changed.problem);
});
