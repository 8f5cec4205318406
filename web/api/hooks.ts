import type { Desk } from "../../server/desk.ts";
import { problem } from "./endpoint.ts";

/** Says that there is no system with an id; null when there is. */
export const noSuchSystem = (desk: Desk, id: string): Response | null =>
  desk.setup.policies.hooks.some((h) => h.id === id)
    ? null
    : problem("no-such-system", 404, "No such system", "There is no system with that id.");
