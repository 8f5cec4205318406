import { z } from "zod";
import * as bells from "./bells-schemas.ts";
import type { Operation } from "./openapi.ts";
import * as wire from "./schemas.ts";

/** Bells, hours, parking, the manager's list and the morning summary, described. */
export const BELLS_OPERATIONS: readonly Operation[] = [
  {
    method: "post",
    path: "/leads/many",
    summary: "Give, cover, excuse, close, park or undo many leads, each for itself",
    body: bells.ActMany,
    answer: bells.ActedMany,
  },
  {
    method: "post",
    path: "/leads/{id}/park",
    summary: "Set a lead aside, in a slow plan or in none",
    body: bells.Park,
    answer: wire.Lead,
  },
  {
    method: "post",
    path: "/leads/{id}/excuse",
    summary: "Nothing need be done about what rings, and why",
    body: bells.Excuse,
    answer: wire.Lead,
  },
  {
    method: "post",
    path: "/leads/{id}/promise",
    summary: "What the lead was told, and for when: a bell rings then",
    body: bells.PromiseTo,
    answer: wire.Lead,
  },
  {
    method: "post",
    path: "/leads/{id}/asked-for",
    summary: "They asked to be called at a time: the bell waits until then",
    body: bells.AskedFor,
    answer: wire.Lead,
  },
  {
    method: "get",
    path: "/managers-list",
    summary: "What rang, what nobody took, what is stuck, by part and by person",
    answer: bells.ManagersList,
  },
  {
    method: "get",
    path: "/parked",
    summary: "Parked leads, those to look at first",
    query: { limit: "How many at most", cursor: "`next` of the page before" },
    answer: bells.ParkedList,
  },
  {
    method: "get",
    path: "/morning",
    summary: "The morning summary as it would be sent now",
    answer: bells.MorningSummary,
  },
  {
    method: "post",
    path: "/morning",
    summary: "Switch the morning summary on or off",
    body: bells.SaveMorning,
    answer: bells.MorningSummary,
  },
  { method: "post", path: "/morning/send", summary: "Send the summary to managers now", answer: bells.Sent },
  {
    method: "post",
    path: "/site/views",
    summary: "A page of the company’s own was looked at, by somebody who agreed to be known",
    body: bells.SiteView,
    answer: z.null(),
  },
  { method: "get", path: "/setup/bells", summary: "Targets and ladders", answer: bells.BellsSetup },
  {
    method: "post",
    path: "/setup/bells",
    summary: "Change targets and ladders",
    body: bells.SaveBells,
    answer: bells.Saved,
  },
  {
    method: "post",
    path: "/setup/bells/simulate",
    summary: "Run a bell over a lead as if nobody did anything",
    body: bells.SimulateBell,
    answer: bells.Simulated,
  },
  { method: "get", path: "/setup/hours", summary: "When the desk is open", answer: bells.HoursSetup },
  {
    method: "post",
    path: "/setup/hours",
    summary: "Change when the desk is open; running bells are reckoned anew",
    body: bells.SaveHours,
    answer: bells.HoursSaved,
  },
  {
    method: "post",
    path: "/setup/hours/close",
    summary: "Close the desk early; running bells are reckoned anew",
    body: bells.CloseEarly,
    answer: bells.HoursSaved,
  },
  {
    method: "post",
    path: "/setup/hours/open",
    summary: "Take back an early closing; running bells are reckoned anew",
    body: bells.OpenAgain,
    answer: bells.HoursSaved,
  },
  {
    method: "get",
    path: "/setup/holidays",
    summary: "Public holidays of a country or region",
    query: { country: "As US", region: "As CO; the whole country when left out", year: "As 2026" },
    answer: bells.HolidayList,
  },
  {
    method: "get",
    path: "/setup/parking",
    summary: "Slow plans, wake rules and how often they fired",
    answer: bells.ParkingSetup,
  },
  {
    method: "post",
    path: "/setup/parking",
    summary: "Change slow plans, wake rules and the company’s own sites",
    body: bells.SaveParking,
    answer: bells.ParkingSetup,
  },
];
