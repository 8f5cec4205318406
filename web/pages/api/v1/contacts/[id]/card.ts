import { contactCard } from "../../../../../../core/book/card.ts";
import { isCompany } from "../../../../../../core/book/records.ts";
import { cleanName } from "../../../../../../server/files/files.ts";
import { contactOf } from "../../../../../api/book.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { survivorOf } from "../../../../../wire/shape-customers.ts";

export const GET = serve("GET /contacts/[id]/card", ({ desk, params }) => {
  const found = contactOf(desk, params.id);
  if (!found.ok) return refusal(found.problem);
  const company = survivorOf(desk, found.record.companyId);
  const at = new Date(found.record.lastActivityAt).toISOString().replace(/[-:]|\.\d+/g, "");
  const host = desk.setup.policies.company.email.split("@")[1] ?? "localhost";
  return new Response(contactCard(found.record, isCompany(company) ? company : null, { host, at }), {
    headers: {
      "content-type": "text/vcard; charset=utf-8",
      "content-disposition": `attachment; filename*=UTF-8''${encodeURIComponent(cleanName(`${found.record.name}.vcf`))}`,
    },
  });
});
