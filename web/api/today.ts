import { type Problem, refuse } from "../../core/refusal.ts";

export const noSuchDay = (): Problem =>
  refuse("no-such-day", 422, "No such day", "date: give a day that has begun, like 2026-03-04.", "date")
    .problem;
