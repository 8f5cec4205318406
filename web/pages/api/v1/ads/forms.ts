import { guessMapping } from "../../../../../core/intake/guess.ts";
import { connectAdForm } from "../../../../../core/setup/change-sources.ts";
import { json, problem, refusal, serve } from "../../../../api/endpoint.ts";
import { toSourceRow } from "../../../../wire/shape-setup.ts";

/** Connect one form: a draft source with its questions mapped by name, and deliveries signed from now on. */
export const POST = serve("POST /ads/forms", async ({ desk, me, body, context }) => {
  const { ads, origin, publicUrl, rehearsal } = context.locals;
  try {
    const account = (await ads.accounts()).find((a) => a.id === body.accountId);
    const page = account?.pages.find((p) => p.forms.some((f) => f.id === body.formId));
    if (!account || !page)
      return problem("no-such-form", 422, "No such form", "The account has no form by that id.", [
        { path: "formId", message: "unknown" },
      ]);
    const form = await ads.form(body.formId);
    const adForm = {
      accountId: account.id,
      accountName: account.name,
      pageName: page.name,
      formId: form.id,
      formName: form.name,
      questions: form.questions,
    };
    const sample = Object.fromEntries(form.questions.map((q) => [q.field, ""]));
    const mapping = guessMapping([sample], desk.setup.policies);
    const tried = connectAdForm(desk.setup, { id: desk.newId("src"), adForm, secret: "", mapping });
    if (!tried.ok) return refusal(tried.problem);
    // The stand-in lives beside this desk; a real platform reaches it from outside.
    const reached = rehearsal ? origin : publicUrl;
    const secret = await ads.listen(form.id, `${reached}/api/v1/intake/${tried.source.key}`);
    const sources = tried.setup.sources.map((s) =>
      s.id === tried.source.id ? { ...s, signingSecret: secret } : s,
    );
    desk.changeSetup({ ...tried.setup, sources }, me.id);
    return json(await toSourceRow(desk, sources.at(-1)!), 201);
  } catch (error) {
    return problem(
      "not-connected",
      409,
      "Not connected",
      error instanceof Error ? error.message : String(error),
    );
  }
});
