import { serve } from "../../../api/endpoint.ts";
import { listFile } from "../../../api/list-file.ts";

export const GET = serve("GET /leads.csv", (call) => listFile(call, "csv"));
