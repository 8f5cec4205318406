import type { APIRoute } from "astro";
import { healthOf } from "../../../../server/watch/health.ts";
import { json } from "../../../api/endpoint.ts";

/** Whether the desk can do what it is for, and which parts are well: no words, since anybody may ask. */
export const GET: APIRoute = ({ locals }) => {
  const { sql } = locals.desk;
  if (sql.trouble) locals.upkeep.tryAgain();
  const { trouble } = sql;
  const { ok, checks, backupAge } = healthOf(locals.desk, locals.clockWatch);
  return json({ ok, checks, backupAge, ...(trouble && { said: trouble.said }) }, ok ? 200 : 503);
};

/** Takes anything and does nothing: what a call costs before any work, for the benchmark. */
export const POST: APIRoute = () => json({ ok: true });
