import type { APIRoute } from "astro";
import { json, problem } from "../../../../api/endpoint.ts";
import { formOf } from "../../../../api/form.ts";

const OPEN = { "access-control-allow-origin": "*", "cache-control": "no-store" };

/** A website form for anybody to fill in: its questions, and a token that says when it was opened. */
export const GET: APIRoute = ({ locals, params }) => {
  const form = formOf(locals.desk, params.key ?? "");
  const response = form
    ? json(form)
    : problem("no-such-form", 404, "No such form", "There is no form by that name.");
  for (const [name, value] of Object.entries(OPEN)) response.headers.set(name, value);
  return response;
};
