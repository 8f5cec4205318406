import { z } from "zod";
import * as cadence from "../wire/cadence-schemas.ts";
import * as wire from "../wire/schemas.ts";
import { defineCalls } from "./define.ts";

/** Plans over time, and the guided run through the day. */
export const CADENCES = defineCalls({
  "GET /setup/cadences": {
    needs: "setup.read",
    said: "Cadences, with who stands where",
    answer: cadence.Cadences,
  },
  "POST /setup/cadences": {
    needs: "setup.change",
    said: "Keep a draft of a cadence, a new one or the next version",
    body: cadence.SaveCadence,
    answer: cadence.Cadence,
  },
  "POST /setup/cadences/[id]/publish": {
    needs: "setup.change",
    said: "Put the draft in force; who is in it goes on by the version they began with",
    answer: cadence.Published,
  },
  "POST /setup/cadences/[id]/upgrade": {
    needs: "setup.change",
    said: "Move those who have not passed a changed touch to the newest version",
    answer: cadence.Upgraded,
  },
  "POST /setup/cadences/[id]/switch": {
    needs: "setup.change",
    said: "Nobody gets in any more, or again",
    body: cadence.SwitchCadence,
    answer: cadence.Cadence,
  },
  "POST /setup/cadences/[id]/discard": {
    needs: "setup.change",
    said: "Throw the draft away; one that never was published goes with it",
    answer: z.object({ discarded: z.literal(true) }),
  },
  "POST /setup/cadences/[id]/remove": {
    needs: "setup.change",
    said: "Remove a cadence nobody is in",
    answer: z.object({ removed: z.literal(true) }),
  },
  "POST /setup/cadences/[id]/preview": {
    needs: "setup.read",
    said: "The true dates for a lead and a start, with the words that would go out",
    body: cadence.PreviewCadence,
    answer: cadence.PreviewOfCadence,
  },
  "GET /cadences/[id]/figures": {
    needs: "figures",
    said: "What a cadence has come to, by version and touch",
    answer: cadence.CadenceFigures,
  },
  "GET /cadences/[id]/behind": {
    needs: "figures",
    said: "The leads behind a figure",
    query: {
      version: "The version",
      n: "The touch, from 1",
      key: "The figure, as `replied`; `now` for who stands there",
    },
    answer: cadence.BehindFigure,
  },
  "POST /cadences/[id]/starts": {
    needs: "leads.move",
    said: "Begin a cadence with many; with dryRun only who would be left out and why",
    body: cadence.StartMany,
    answer: cadence.StartedMany,
  },
  "GET /cadence-jobs/[id]": {
    needs: "leads.move",
    said: "How far beginning a cadence with many has come",
    answer: cadence.CadenceJob,
  },
  "POST /leads/[id]/cadences": {
    needs: "leads",
    said: "Put a lead into a cadence",
    body: cadence.StartCadence,
    answer: wire.Acted,
  },
  "POST /leads/[id]/cadences/[run]": {
    needs: "leads",
    said: "Pause, go on, stop, skip the next touch, move it or do it now",
    body: cadence.SteerRun,
    answer: wire.Acted,
  },
  "POST /leads/[id]/tasks": {
    needs: "leads",
    said: "A task about a lead is done",
    body: cadence.DoTask,
    answer: wire.Acted,
  },
  "POST /leads/[id]/bought": {
    needs: "leads",
    said: "They bought: a customer from now on, and no open lead",
    body: cadence.Bought,
    answer: wire.Acted,
  },
  "GET /rounds": {
    needs: "leads",
    said: "The day’s work of somebody in its order",
    query: { personId: "Whose; the caller’s when left out" },
    answer: cadence.Rounds,
  },
  "POST /rounds/[id]/begin": {
    needs: "leads",
    said: "Have a lead on one’s screen in the rounds; 409 names who has it",
    body: cadence.BeginRound,
    answer: wire.Sheet,
  },
  "POST /rounds/[id]/leave": {
    needs: "leads",
    said: "Leave a lead in the rounds",
    body: cadence.BeginRound,
    answer: z.object({ left: z.literal(true) }),
  },
  "POST /rounds/[id]/skip": {
    needs: "leads",
    said: "Put a lead off to the end of the rounds, with a reason",
    body: cadence.SkipRound,
    answer: wire.Acted,
  },
  "POST /times/read": {
    needs: "leads",
    said: "Read a time as people type it; 422 when not all of it is understood",
    body: cadence.ReadTime,
    answer: cadence.ReadTimeAnswer,
  },
});
