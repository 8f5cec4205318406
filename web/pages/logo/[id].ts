import type { APIRoute } from "astro";
import { LOGO_TYPES } from "../../../core/setup/change-company.ts";

/** The company's logo, for whoever opens a mail or a form: the one file of the desk that is everybody's, and only while it is the logo. */
export const GET: APIRoute = ({ params, locals }) => {
  const { logo } = locals.desk.setup.policies.company;
  const file = logo && params.id === logo.fileId ? locals.desk.files.read(logo.fileId) : null;
  if (!file || !LOGO_TYPES.has(file.type)) return new Response(null, { status: 404 });
  return new Response(new Uint8Array(file.bytes), {
    headers: {
      "content-type": file.type,
      "x-content-type-options": "nosniff",
      "content-security-policy": "sandbox; default-src 'none'",
      "cache-control": "public, max-age=86400",
      "cross-origin-resource-policy": "cross-origin",
    },
  });
};
