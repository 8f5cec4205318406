import { problem, serve } from "../../../../api/endpoint.ts";

export const GET = serve("GET /rehearsal/phone", ({ rehearsal }) => ({
  items: rehearsal.calls(),
  next: null,
}));

export const POST = serve("POST /rehearsal/phone", async ({ rehearsal, body }) => {
  const done = await rehearsal.phone(body.callId, body.does);
  return done
    ? { done }
    : problem("not-on-the-line", 409, "Not on the line", "This call has ended, or is past that.");
});
