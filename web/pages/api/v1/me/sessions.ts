import { endpoint } from "../../../../api/endpoint.ts";
import { EndSessions } from "../../../../wire/access-schemas.ts";

/** Where one is signed in. */
export const GET = endpoint(null, async ({ me, context }) => ({
  items: await context.locals.accounts.sessionsOf(me.id, context.request.headers),
  next: null,
}));

/** Sign out elsewhere: at one place, or everywhere but here. */
export const POST = endpoint(EndSessions, async ({ me, body, context }) => {
  const { accounts } = context.locals;
  const here = (await accounts.sessionsOf(me.id, context.request.headers)).find((s) => s.current);
  const which = body.token ? { token: body.token } : { butToken: here?.token ?? null };
  return { ended: accounts.endSessions(me.id, which) };
});
