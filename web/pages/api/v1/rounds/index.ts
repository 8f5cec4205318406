import { problem, serve } from "../../../../api/endpoint.ts";
import { personAsked } from "../../../../api/rounds.ts";
import { toRounds } from "../../../../wire/shape-cadences.ts";

export const GET = serve("GET /rounds", ({ desk, me, rights, query }) => {
  const person = personAsked(desk, me, rights, query.get("personId"));
  if (!person)
    return problem("not-yours-to-see", 403, "Not yours to see", "These are somebody else’s rounds.");
  const all = person.role !== "salesperson" && rights.has("leads.all");
  return toRounds(desk, desk.rounds.of(person, all), desk.rounds.dayOf(person, all), person.id);
});
