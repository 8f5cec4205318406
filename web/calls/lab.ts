import * as wire from "../wire/lab-schemas.ts";
import { listOf } from "../wire/schemas.ts";
import { defineCalls } from "./define.ts";

/** Looking ahead: weeks of the desk run by its own engine, one set-up against another. */
export const LAB = defineCalls({
  "GET /lab": {
    needs: "rules.draft",
    said: "What was tried in the lab, the latest first",
    answer: listOf(wire.LabLine),
  },
  "POST /lab": {
    needs: "rules.draft",
    said: "Run one set-up against another; one experiment at a time",
    body: wire.StartLab,
    answer: wire.LabExperiment,
  },
  "GET /lab/choices": {
    needs: "rules.draft",
    said: "What can be changed in the lab, as it is live",
    answer: wire.LabChoices,
  },
  "GET /lab/[id]": {
    needs: "rules.draft",
    said: "How far an experiment has come, and what it came to",
    answer: wire.LabExperiment,
  },
  "POST /lab/[id]/cancel": { needs: "rules.draft", said: "End one early", answer: wire.LabExperiment },
  "POST /lab/[id]/remove": {
    needs: "rules.draft",
    said: "Take one out, with what it came to",
    answer: listOf(wire.LabLine),
  },
  "POST /lab/[id]/draft": {
    needs: "rules.draft",
    said: "Make the rules of a side the draft",
    body: wire.LabSide,
    answer: wire.LabDrafted,
  },
});
