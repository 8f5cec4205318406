import type { z } from "zod";
import { placeOfLead } from "../../core/cadence/when.ts";
import { excuse } from "../../core/desk/bells.ts";
import { startCadence, stopRuns } from "../../core/desk/cadence.ts";
import { give, routeByHand } from "../../core/desk/hand-off.ts";
import { park } from "../../core/desk/park.ts";
import type { Decided, World } from "../../core/desk/plan.ts";
import { type DecidedPair, joinLikely } from "../../core/desk/same.ts";
import { close, moveStage } from "../../core/desk/stage.ts";
import { tag } from "../../core/desk/tags.ts";
import { setNextStep } from "../../core/desk/work.ts";
import { nameOf, type Setup } from "../../core/policy/setup.ts";
import type { Desk } from "../../server/desk.ts";
import type { Act } from "../../server/many/many.ts";
import type { ActMany } from "../wire/bells-schemas.ts";

type Body = z.output<typeof ActMany>;
export type Doing = Exclude<Body["do"], "undo">;

const MINUTE = 60_000;

/** What each does with a lead, and what has been done with them, in words that follow a number of leads. */
const ACTS: Readonly<
  Record<
    Doing,
    {
      readonly act: (world: World, by: string, body: Body, desk: Desk) => Decided | DecidedPair;
      readonly done: (body: Body, setup: Setup) => string;
    }
  >
> = {
  give: {
    act: (world, by, { to = "", reason, steps }) => give(world, by, to, reason, steps),
    done: ({ to = "" }, setup) =>
      `given to ${setup.groups.find((g) => g.id === to)?.name ?? nameOf(setup, to)}`,
  },
  route: { act: (world, by) => routeByHand(world, by), done: () => "offered by the rules" },
  cover: { act: (world, by) => give(world, by, by, "covers it"), done: () => "covered by you" },
  tag: {
    act: (world, by, { tags }) => tag(world, by, { on: tags }),
    done: ({ tags }) => `tagged ${tags.join(", ")}`,
  },
  untag: {
    act: (world, by, { tags }) => tag(world, by, { off: tags }),
    done: ({ tags }) => `no longer tagged ${tags.join(", ")}`,
  },
  defer: {
    act: (world, by, { until, reason, spreadMinutes }) => {
      const { lead } = world;
      // Each has a place of its own in the spread, the same however often it is asked.
      const place = lead ? placeOfLead(lead.id, "defer") : 0;
      const dueAt =
        (until === null ? world.now : Date.parse(until)) + Math.floor(place * spreadMinutes) * MINUTE;
      const kind = lead?.nextStep?.kind ?? "call";
      return setNextStep(world, by, { kind, note: reason || (lead?.nextStep?.note ?? "Call"), dueAt });
    },
    done: () => "put off",
  },
  park: {
    act: (world, by, { reason, planId, until }) =>
      park(world, by, reason, planId, until === null ? null : Date.parse(until)),
    done: () => "parked",
  },
  wake: { act: (world, by) => routeByHand(world, by), done: () => "awake again" },
  cadence: {
    act: (world, by, { cadenceId = "", spreadMinutes }) =>
      startCadence(world, by, { cadenceId, ...(spreadMinutes > 0 && { spreadMinutes }) }),
    done: () => "in the cadence",
  },
  "stop-cadences": {
    act: (world, by, { reason }) => stopRuns(world, by, reason),
    done: () => "out of their cadences",
  },
  stage: {
    act: (world, by, { stage = "", reason }) => moveStage(world, by, { stage, reason, mover: true }),
    done: ({ stage = "" }) => `moved to ${stage}`,
  },
  join: {
    act: (world, by, _body, { looker }) =>
      joinLikely(world, by, { leadOf: (id) => looker.lead(id), look: (id) => looker.look(id) }),
    done: () => "joined with who is likely the same person",
  },
  close: { act: (world, by, { reason }) => close(world, by, reason), done: () => "closed" },
  silence: { act: (world, by, { reason }) => excuse(world, by, reason), done: () => "silenced" },
  excuse: { act: (world, by, { reason }) => excuse(world, by, reason), done: () => "silenced" },
};

/** What is to be done with each lead. */
export const actOf =
  (desk: Desk, body: Body, by: string): Act =>
  (world) =>
    ACTS[body.do as Doing].act(world, by, body, desk);

/** What has been done with them, in words. */
export const doneOf = (body: Body, setup: Setup): string => ACTS[body.do as Doing].done(body, setup);
