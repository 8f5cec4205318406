import { z } from "zod";
import { Receipt } from "../wire/schemas.ts";
import { defineCalls } from "./define.ts";

/** What is taken at the server's own door, before any page: described here, and handled by `server/door.ts`. */
export const DOORS = defineCalls({
  "POST /intake/[sourceKey]": {
    needs: "anybody",
    said: "Hand in an inquiry: JSON, form-encoded, multipart, ADF/XML or a contact card; signed by Standard Webhooks where the source has a secret",
    body: z.record(z.string(), z.unknown()),
    status: 202,
    answer: Receipt,
  },
});
