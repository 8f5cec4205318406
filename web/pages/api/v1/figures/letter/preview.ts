import { refusal, serve } from "../../../../../api/endpoint.ts";
import { asked, orNotNow } from "../../../../../api/figures.ts";
import { LetterPartsQuery } from "../../../../../wire/figure-schemas.ts";

export const GET = serve("GET /figures/letter/preview", ({ desk, query }) => {
  const sent = asked(LetterPartsQuery, query);
  if (!sent.ok) return refusal(sent.problem);
  return orNotNow(() => desk.letters.preview(sent.value.parts ?? desk.setup.policies.letter.parts));
});
