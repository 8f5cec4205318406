import { serve } from "../../../../api/endpoint.ts";

/** The stand-in ad platform's forms that a source of ours is connected to. */
export const GET = serve("GET /rehearsal/forms", ({ rehearsal, desk }) => {
  const forms = rehearsal.platform.forms();
  const items = desk.setup.sources.flatMap(({ key, adForm }) => {
    const form = forms.find((f) => f.id === adForm?.formId);
    return form ? [{ sourceKey: key, name: form.name, questions: form.questions }] : [];
  });
  return { items, next: null };
});
