import type { APIRoute } from "astro";
import { json } from "../../../api/endpoint.ts";

/** Ready to work: the database is open, can be written to, and the desk keeps time. */
export const GET: APIRoute = ({ locals }) => {
  const { sql } = locals.desk;
  if (sql.trouble) locals.upkeep.tryAgain();
  const { trouble } = sql;
  return trouble ? json({ ok: false, said: trouble.said }, 503) : json({ ok: true });
};

/** Takes anything and does nothing: what a call costs before any work, for the benchmark. */
export const POST: APIRoute = () => json({ ok: true });
