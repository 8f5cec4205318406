import { BUCKET_KEY } from "../../../../../standins/bucket.ts";
import { serve } from "../../../../api/endpoint.ts";

export const GET = serve("GET /rehearsal/bucket", ({ rehearsal: { bucket } }) => ({
  url: `${bucket.url}/tarnholt`,
  ...BUCKET_KEY,
  items: [...bucket.objects]
    .map(([name, { length }]) => ({ name: name.replace(/^tarnholt\//, ""), bytes: length }))
    .sort((a, b) => a.name.localeCompare(b.name)),
}));
