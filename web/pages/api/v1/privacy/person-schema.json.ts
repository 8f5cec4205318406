import { serve } from "../../../../api/endpoint.ts";
import { personSchema } from "../../../../api/privacy.ts";

export const GET = serve("GET /privacy/person-schema.json", personSchema);
