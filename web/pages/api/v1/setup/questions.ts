import type { QuestionSet } from "../../../../../core/policy/questions.ts";
import { changeQuestions } from "../../../../../core/setup/change-stages.ts";
import { refusal, serve } from "../../../../api/endpoint.ts";
import { toQuestions } from "../../../../wire/shape-stages.ts";

export const GET = serve("GET /setup/questions", ({ desk }) => toQuestions(desk));

export const POST = serve("POST /setup/questions", ({ desk, me, body }) => {
  // Which of the fields there are is checked by the change itself.
  const sets = body.questionSets as readonly QuestionSet[];
  const changed = desk.office.change(me.id, (setup) => changeQuestions(setup, sets));
  return changed.ok ? toQuestions(desk) : refusal(changed.problem);
});
