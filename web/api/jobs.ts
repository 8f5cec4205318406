import { type Problem, refuse } from "../../core/refusal.ts";
import type { Job } from "../../server/many/many.ts";
import type * as wire from "../wire/bells-schemas.ts";

export const toJob = ({ id, state, done, total, said, left, undoable }: Job): wire.Job => ({
  id,
  state,
  done,
  total,
  actId: undoable ? id : null,
  said,
  left: [...left],
});

export const noSuchJob = (): Problem =>
  refuse("no-such-job", 404, "No such job", "It is long done, or none of yours has that id.").problem;
