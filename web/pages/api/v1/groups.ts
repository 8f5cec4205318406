import { endpoint } from "../../../api/endpoint.ts";

export const GET = endpoint(null, ({ desk }) => ({
  items: desk.setup.groups.map(({ id, name, way, members }) => ({
    id,
    name,
    way,
    memberIds: members.map((m) => m.personId),
  })),
  next: null,
}));
