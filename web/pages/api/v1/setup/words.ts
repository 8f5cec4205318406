import { changeWords } from "../../../../../core/setup/change-company.ts";
import { refusal, serve } from "../../../../api/endpoint.ts";
import { toWords } from "../../../../wire/shape-company.ts";

export const GET = serve("GET /setup/words", ({ desk }) => toWords(desk));

export const POST = serve("POST /setup/words", ({ desk, me, body }) => {
  const changed = desk.office.change(me.id, (setup) => changeWords(setup, body));
  return changed.ok ? toWords(desk) : refusal(changed.problem);
});
