import { z } from "zod";
import * as answering from "../wire/answering-schemas.ts";
import * as bells from "../wire/bells-schemas.ts";
import * as wire from "../wire/schemas.ts";
import { defineCalls } from "./define.ts";

/** What the company has decided: replies, templates, restraint, calls, alerts, bells, hours, parking. */
export const SETUP = defineCalls({
  "GET /setup/bells": { needs: "setup.read", said: "Targets and ladders", answer: bells.BellsSetup },
  "POST /setup/bells": {
    needs: "setup.change",
    said: "Change targets and ladders",
    body: bells.SaveBells,
    answer: bells.Saved,
  },
  "POST /setup/bells/draw": {
    needs: "setup.read",
    said: "The true times of a ladder's rungs, for a bell that begins now",
    body: bells.DrawLadder,
    answer: bells.DrawnLadder,
  },
  "POST /setup/bells/week": {
    needs: "setup.read",
    said: "When the bell of a target would ring, for every moment of the week",
    body: bells.DrawWeek,
    answer: bells.DrawnWeek,
  },
  "POST /setup/bells/simulate": {
    needs: "setup.read",
    said: "Run a bell over a lead as if nobody did anything",
    body: bells.SimulateBell,
    answer: bells.Simulated,
  },
  "GET /setup/hours": { needs: "setup.read", said: "When the desk is open", answer: bells.HoursSetup },
  "POST /setup/hours": {
    needs: "setup.change",
    said: "Change when the desk is open; running bells are reckoned again",
    body: bells.SaveHours,
    answer: bells.HoursSaved,
  },
  "POST /setup/hours/close": {
    needs: "setup.change",
    said: "Close the desk early; running bells are reckoned again",
    body: bells.CloseEarly,
    answer: bells.HoursSaved,
  },
  "POST /setup/hours/open": {
    needs: "setup.change",
    said: "Take back an early closing; running bells are reckoned again",
    body: bells.OpenAgain,
    answer: bells.HoursSaved,
  },
  "GET /setup/holidays": {
    needs: "setup.read",
    said: "Public holidays of a country or region",
    query: { country: "As US", region: "As CO; the whole country when left out", year: "As 2026" },
    answer: bells.HolidayList,
  },
  "GET /setup/parking": {
    needs: "setup.read",
    said: "Wake rules and how often they fired",
    answer: bells.ParkingSetup,
  },
  "POST /setup/parking": {
    needs: "setup.change",
    said: "Change wake rules",
    body: bells.SaveParking,
    answer: bells.ParkingSetup,
  },
  "GET /setup/replies": {
    needs: "setup.read",
    said: "How sources answer on their own",
    answer: answering.RepliesSetup,
  },
  "POST /setup/replies": {
    needs: "setup.change",
    said: "Change how sources answer on their own",
    body: answering.ChangeReplies,
    answer: answering.RepliesSetup,
  },
  "POST /setup/replies/try": {
    needs: "setup.read",
    said: "Exactly what a lead would receive under these policies, and when; changes nothing",
    body: answering.TryReplies,
    answer: answering.TriedReplies,
  },
  "GET /setup/templates": {
    needs: "setup.read",
    said: "Every template with where it is used and how it does",
    answer: answering.TemplatesSetup,
  },
  "POST /setup/templates": {
    needs: "setup.change",
    said: "Save a template, new or known",
    body: answering.Template,
    answer: answering.Template,
  },
  "POST /setup/templates/try": {
    needs: "setup.read",
    said: "A template filled in for a lead, with what is wrong in it; changes nothing",
    body: answering.TryTemplate,
    answer: answering.TriedTemplate,
  },
  "POST /setup/templates/send": {
    needs: "setup.change",
    said: "Send a template to the caller, over the real channel",
    body: answering.TryTemplate,
    answer: z.object({ to: z.string() }),
  },
  "GET /setup/templates/[id]/versions": {
    needs: "setup.read",
    said: "Earlier versions of a template, newest first",
    answer: wire.listOf(answering.TemplateVersion),
  },
  "POST /setup/templates/[id]/remove": {
    needs: "setup.change",
    said: "Remove a template that nothing uses",
    answer: z.object({ removed: z.string() }),
  },
  "GET /setup/restraint": {
    needs: "setup.read",
    said: "What keeps automatic messages within bounds",
    answer: answering.RestraintSetup,
  },
  "POST /setup/restraint": {
    needs: "setup.change",
    said: "Change what keeps automatic messages within bounds",
    body: answering.RestraintSetup,
    answer: answering.RestraintSetup,
  },
  "GET /setup/suppressed": {
    needs: "setup.read",
    said: "Numbers and addresses nothing automatic goes to",
    answer: wire.listOf(answering.Suppressed),
  },
  "POST /setup/suppressed": {
    needs: "setup.change",
    said: "Put numbers and addresses on that list, one or many",
    body: answering.Suppress,
    answer: answering.SuppressDone,
  },
  "POST /setup/suppressed/remove": {
    needs: "setup.change",
    said: "Take one off that list",
    body: z.object({ value: z.string() }),
    answer: z.object({ removed: z.boolean() }),
  },
  "GET /setup/calls": {
    needs: "setup.read",
    said: "What outcomes mean, and how calls are booked",
    answer: answering.CallsSetup,
  },
  "POST /setup/calls": {
    needs: "setup.change",
    said: "Change what outcomes mean, and how calls are booked",
    body: answering.CallsSetup,
    answer: answering.CallsSetup,
  },
  // One's own alerts are everybody's to change; the company's are checked there.
  "GET /setup/alerts": {
    needs: "signed-in",
    said: "By which ways everybody hears of what",
    answer: answering.AlertsSetup,
  },
  "POST /setup/alerts": {
    needs: "signed-in",
    said: "Change by which ways one person, or the company, hears of what",
    body: answering.ChangeAlerts,
    answer: answering.AlertsSetup,
  },
  "POST /setup/alerts/words": {
    needs: "setup.change",
    said: "Change what alerts say, with merge fields",
    body: answering.ChangeAlertWords,
    answer: answering.AlertsSetup,
  },
  "POST /setup/alerts/test": {
    needs: "signed-in",
    said: "Send the caller a test of one alert now, by the ways they have chosen",
    body: answering.TestAlert,
    answer: z.object({ ways: z.array(z.string()) }),
  },
});
