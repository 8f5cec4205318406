import type { Problem } from "../../core/refusal.ts";

/** Thrown inside a transaction to undo all of it; becomes the answer. */
export class Refusal extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}
