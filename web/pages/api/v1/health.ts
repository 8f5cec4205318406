import type { APIRoute } from "astro";
import { json } from "../../../api/endpoint.ts";

/** Ready to work: the database is open and the desk keeps time. */
export const GET: APIRoute = () => json({ ok: true });

/** Takes anything and does nothing: what a call costs before any work, for the benchmark. */
export const POST: APIRoute = () => json({ ok: true });
