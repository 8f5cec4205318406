import { serve } from "../../../../api/endpoint.ts";

/** How the connection to the ad platform stands: accounts, pages and forms by name, and which are sources already. */
export const GET = serve("GET /ads", async ({ desk, context }) => {
  const { ads } = context.locals;
  if (!ads.connected) return { connected: false, problem: null, accounts: [] };
  try {
    const sourceOf = (formId: string) =>
      desk.setup.sources.find((s) => s.adForm?.formId === formId)?.key ?? null;
    const accounts = (await ads.accounts()).map((a) => ({
      ...a,
      pages: a.pages.map((p) => ({ ...p, forms: p.forms.map((f) => ({ ...f, source: sourceOf(f.id) })) })),
    }));
    return { connected: true, problem: null, accounts };
  } catch (error) {
    return { connected: true, problem: error instanceof Error ? error.message : String(error), accounts: [] };
  }
});
