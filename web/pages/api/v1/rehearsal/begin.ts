import { problem, serve } from "../../../../api/endpoint.ts";

export const POST = serve("POST /rehearsal/begin", async ({ body, context }) => {
  const { beginAgain } = context.locals;
  if (!beginAgain)
    return problem(
      "not-begun-again",
      409,
      "Not begun again",
      "This rehearsal has a data folder of its own, which is not thrown away.",
    );
  await beginAgain(body.with);
  return { begun: body.with };
});
