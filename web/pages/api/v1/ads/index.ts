import { nameOf } from "../../../../../core/policy/setup.ts";
import { serve } from "../../../../api/endpoint.ts";
import { iso } from "../../../../wire/shape.ts";

/** How the connection to the ad platform stands: accounts, pages and forms by name, and which are sources already. */
export const GET = serve("GET /ads", async ({ desk, context }) => {
  const { ads } = context.locals;
  const { since, address } = ads;
  const stands = {
    address,
    since: since && { at: iso(since.at), by: since.by ? nameOf(desk.setup, since.by) : "somebody" },
  };
  if (!ads.connected) return { ...stands, connected: false, problem: null, accounts: [] };
  try {
    const sourceOf = (formId: string) =>
      desk.setup.sources.find((s) => s.adForm?.formId === formId)?.key ?? null;
    const accounts = (await ads.accounts()).map((a) => ({
      ...a,
      pages: a.pages.map((p) => ({ ...p, forms: p.forms.map((f) => ({ ...f, source: sourceOf(f.id) })) })),
    }));
    return { ...stands, connected: true, problem: null, accounts };
  } catch (error) {
    return {
      ...stands,
      connected: true,
      problem: error instanceof Error ? error.message : String(error),
      accounts: [],
    };
  }
});
