import { serve } from "../../../../api/endpoint.ts";

/** Where one is signed in. */
export const GET = serve("GET /me/sessions", async ({ me, context }) => ({
  items: await context.locals.accounts.sessionsOf(me.id, context.request.headers),
  next: null,
}));

/** Sign out elsewhere: at one place, or everywhere but here. */
export const POST = serve("POST /me/sessions", async ({ me, body, context }) => {
  const { accounts } = context.locals;
  const here = (await accounts.sessionsOf(me.id, context.request.headers)).find((s) => s.current);
  const which = body.token ? { token: body.token } : { butToken: here?.token ?? null };
  return { ended: accounts.endSessions(me.id, which) };
});
