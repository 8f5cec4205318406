import { rehearsing } from "../../../../api/endpoint.ts";
import { SetDown } from "../../../../wire/schemas.ts";

export const GET = rehearsing(null, (rehearsal) => ({ down: [...rehearsal.outside.down] }));

export const POST = rehearsing(SetDown, (rehearsal, { body }) => ({
  down: rehearsal.setDown(body.channel, body.down),
}));
