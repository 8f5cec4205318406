import { refusal, serve } from "../../../api/endpoint.ts";
import { noSuchDay } from "../../../api/today.ts";

export const GET = serve("GET /today", ({ desk, query }) => {
  const day = desk.today.figures(query.get("date") || null);
  if (!day) return refusal(noSuchDay());
  const { from, to, people, byHour, usual, ...figures } = day;
  return {
    ...figures,
    byHour: [...byHour],
    usual: [...usual],
    people: people.map(({ oldestUntried, ...person }) => ({
      ...person,
      oldestUntried: oldestUntried === null ? null : new Date(oldestUntried).toISOString(),
    })),
  };
});
