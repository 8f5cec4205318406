import { called } from "../../../../../../core/lead/called.ts";
import { cleanName } from "../../../../../../server/files/files.ts";
import { PersonFile } from "../../../../../../server/privacy/dossier.ts";
import { serve } from "../../../../../api/endpoint.ts";

/** Everything known of a person, as it is made: who hands it out is in the list of changes. */
export const GET = serve("GET /leads/[id]/person.zip", ({ desk, me, params }) => {
  const leadId = desk.looker.survivor(params.id ?? "");
  const lead = desk.looker.lead(leadId);
  desk.office.audit(me.id, "had everything known of a person handed out", { after: { lead: leadId } });
  const name = cleanName(`${lead ? called(lead) : "person"}.zip`);
  return new Response(new PersonFile(desk, desk.erasures.family(leadId)).zip(), {
    headers: {
      "content-type": "application/zip",
      "content-disposition": `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      "cache-control": "no-store",
    },
  });
});
