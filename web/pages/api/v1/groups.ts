import { serve } from "../../../api/endpoint.ts";

export const GET = serve("GET /groups", ({ desk }) => ({
  items: desk.setup.groups.map(({ id, name, way, members }) => ({
    id,
    name,
    way,
    memberIds: members.map((m) => m.personId),
  })),
  next: null,
}));
