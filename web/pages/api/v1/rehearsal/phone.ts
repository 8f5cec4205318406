import { problem, rehearsing } from "../../../../api/endpoint.ts";
import { PlayPhone } from "../../../../wire/answering-schemas.ts";

export const GET = rehearsing(null, (rehearsal) => ({ items: rehearsal.calls(), next: null }));

export const POST = rehearsing(PlayPhone, async (rehearsal, { body }) => {
  const done = await rehearsal.phone(body.callId, body.does);
  return done ? { done } : problem(409, "Not on the line", "This call has ended, or is past that.");
});
