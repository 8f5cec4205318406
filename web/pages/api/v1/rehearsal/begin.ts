import { problem, rehearsing } from "../../../../api/endpoint.ts";
import { Begin } from "../../../../wire/schemas.ts";

export const POST = rehearsing(Begin, async (_, { body, context }) => {
  const { beginAgain } = context.locals;
  if (!beginAgain)
    return problem(
      409,
      "Not begun again",
      "This rehearsal has a data folder of its own, which is not thrown away.",
    );
  await beginAgain(body.with);
  return { begun: body.with };
});
