import { z } from "zod";
import * as wire from "../wire/figure-schemas.ts";
import { defineCalls } from "./define.ts";

const SPAN = {
  from: "The first day of the desk, 2026-03-04; eight weeks ago without",
  to: "The last day; today without",
};

/** Looking back. Leads are told of by when they came in; every share has its interval. */
export const FIGURES = defineCalls({
  "GET /figures/response": {
    needs: "figures",
    said: "How long leads waited, with those who still do",
    query: {
      ...SPAN,
      clock: "`desk`: only the desk’s open time counts; `wall`: all of it",
      until:
        "`try`: the first try of ours; `talk`: the first contact both ways; `reply`: the first automatic answer",
      by: "source, person, group, product, rule or hour (of the week they came in, 0 is Monday from midnight)",
      split: "A day: leads from then on are held against those before",
    },
    answer: wire.ResponseFigures,
  },
  "GET /figures/effort": {
    needs: "figures",
    said: "How much was tried, what it brought, and what an earlier first try was worth",
    query: SPAN,
    answer: wire.EffortFigures,
  },
  "GET /figures/sources": {
    needs: "figures",
    said: "What sources brought and cost, by the leads that came in then",
    query: {
      ...SPAN,
      by: "source, campaign or month",
      attribution: "`first` or `last` inquiry of a lead",
    },
    answer: wire.SourceFigures,
  },
  "GET /figures/people": {
    needs: "figures",
    said: "What people and groups were given and what came of it, against what could be expected",
    query: SPAN,
    answer: wire.PeopleFigures,
  },
  "GET /figures/staffing": {
    needs: "figures",
    said: "How many are needed on duty in each hour of the week, and who is",
    query: {
      ...SPAN,
      goal: "Per cent that are to be tried in time; 80 without",
      minutes: "In how many minutes; 5 without",
      seconds: "How long one lead takes; by the desk’s own calls without",
      day: "A day of the week, 0 is Monday, on which others are on duty than by the roster",
      more: "How many more then, or fewer when negative",
    },
    answer: wire.StaffingFigures,
  },
  "GET /figures/staffing/run": {
    needs: "figures",
    said: "How far the last run of how many are needed has come, and what it says of each hour",
    answer: wire.NeededRun,
  },
  "POST /figures/staffing/run": {
    needs: "figures",
    said: "Find out how many are needed by running the desk with one on duty, two, three …; what ran before ends",
    body: wire.AskNeeded,
    answer: wire.NeededRun,
  },
  "GET /figures/behind": {
    needs: "figures",
    said: "The leads a figure counts, the latest first, 200 at most",
    query: {
      ...SPAN,
      part: "all, untried, censored, in-target, late, reached, qualified or won",
      by: "What the figure is told by: source, person, group, product, rule, hour, campaign, month, tries (10 stands for more as well), nth-try (leads not reached before it), delay (until the first try: 5, 15, 60, 240, 600 minutes or later), channel or call-hour (of tries; a lead counts once), or work-hour (of the week in which they are work: that in which the desk opens for those who came while it was closed)",
      key: "Which of them; left out for what is not known",
    },
    answer: wire.BehindFigure,
  },
  "GET /figures/letter": {
    needs: "figures",
    said: "When the weekly letter of figures goes out, to whom, and with what",
    answer: wire.Letter,
  },
  "POST /figures/letter": {
    needs: "setup.change",
    said: "Say when the weekly letter goes out, to whom, and with what",
    body: wire.SaveLetter,
    answer: wire.Letter,
  },
  "GET /figures/letter/preview": {
    needs: "figures",
    said: "The letter as it would look now, its charts in it as PNG pictures, and the same as text",
    query: { parts: "Its parts, parted by commas; those that were chosen without" },
    answer: wire.LetterPreview,
  },
  "POST /figures/letter/send": {
    needs: "figures",
    said: "Send one now: to oneself, or to all who get it (whoever may change Set-up)",
    body: wire.SendLetter,
    answer: wire.LetterSent,
  },
  "GET /figures/spend": {
    needs: "figures",
    said: "What sources have cost, as it was entered",
    answer: wire.SpendTable,
  },
  "POST /figures/spend": {
    needs: "setup.change",
    said: "Enter what sources have cost in a month; what stands there of the same source, campaign, month and currency is replaced, an amount of 0 takes it out",
    body: wire.SaveSpend,
    answer: wire.SpendTable,
  },
  "POST /figures/spend/file": {
    needs: "setup.change",
    said: "Enter what sources have cost from a table with the columns source, campaign, month, amount and currency (CSV, in any order)",
    body: z.object({ text: z.string().max(300_000, "300,000 characters are the most here.") }),
    answer: wire.SpendFile,
  },
});
