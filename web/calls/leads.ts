import { z } from "zod";
import * as answering from "../wire/answering-schemas.ts";
import * as bells from "../wire/bells-schemas.ts";
import * as routing from "../wire/routing-schemas.ts";
import * as wire from "../wire/schemas.ts";
import * as setup from "../wire/setup-schemas.ts";
import { defineCalls, PAGE } from "./define.ts";

/** Leads and what is done to them. */
export const LEADS = defineCalls({
  "GET /queue": {
    needs: "leads",
    said: "The day's work in its bands",
    query: { limit: PAGE.limit, later: "Also the leads of the band *later*" },
    answer: wire.Queue,
  },
  "GET /leads": {
    needs: "leads",
    said: "Find leads",
    query: {
      ...PAGE,
      q: "Any piece of a name, company, number or address",
      filter: "open, waiting, rung, answered, listed or closed",
      sort: "recent or created",
      owner: "Only leads this person has or is offered",
    },
    answer: wire.listOf(wire.Lead),
  },
  "POST /leads": {
    needs: "leads",
    said: "Write down an inquiry by hand",
    body: setup.Entry,
    status: 201,
    answer: wire.Acted.or(wire.KnownAlready),
  },
  "POST /leads/match": {
    needs: "leads",
    said: "Who the person with these facts may be",
    body: setup.WhoMayBe,
    answer: wire.WhoTheyMayBe,
  },
  "POST /leads/many": {
    needs: "leads.move",
    said: "Give, cover, excuse, close, park or undo many leads, each for itself",
    body: bells.ActMany,
    answer: bells.ActedMany,
  },
  "GET /leads/[id]": { needs: "leads", said: "One lead", answer: wire.Lead },
  "GET /leads/[id]/sheet": { needs: "leads", said: "A lead as the desk shows it", answer: wire.Sheet },
  "GET /leads/[id]/events": {
    needs: "leads",
    said: "Everything that happened to a lead",
    query: PAGE,
    answer: wire.listOf(wire.Event),
  },
  "GET /leads/[id]/merge": {
    needs: "leads",
    said: "A template filled in for a lead",
    query: { template: "The template’s id" },
    answer: answering.Merged,
  },
  "GET /leads/[id]/draft": {
    needs: "leads",
    said: "What the caller has begun to write",
    answer: answering.MessageDraft.nullable(),
  },
  "POST /leads/[id]/here": {
    needs: "leads",
    said: "Say that one has the lead open, or has closed it; gives who else has it open",
    body: wire.Here,
    answer: wire.AlsoHere,
  },
  "POST /leads/[id]/draft": {
    needs: "leads",
    said: "Keep what the caller has begun to write; empty forgets it",
    body: answering.MessageDraft,
    answer: z.object({ kept: z.boolean() }),
  },
  "POST /leads/[id]/take": {
    needs: "leads",
    said: "Take a lead; 409 names who has it when too late",
    body: wire.Take,
    answer: wire.Acted,
  },
  "POST /leads/[id]/pass": {
    needs: "leads",
    said: "Pass a lead on, with a reason",
    body: wire.Pass,
    answer: wire.Acted,
  },
  "POST /leads/[id]/tries": {
    needs: "leads",
    said: "Log a human try and its outcome",
    body: wire.Try,
    status: 201,
    answer: wire.Acted,
  },
  "POST /leads/[id]/messages": {
    needs: "leads",
    said: "Write to a lead; counts as a try",
    body: wire.Message,
    status: 201,
    answer: wire.Acted,
  },
  "POST /leads/[id]/unschedule": {
    needs: "leads",
    said: "Take back a message that waits for its time",
    body: answering.Unschedule,
    answer: wire.Acted,
  },
  "POST /leads/[id]/notes": {
    needs: "leads",
    said: "Write a note for colleagues",
    body: wire.Note,
    status: 201,
    answer: wire.Acted,
  },
  "POST /leads/[id]/facts": {
    needs: "leads",
    said: "Fill in or mend what is known",
    body: setup.Learn,
    answer: wire.Acted,
  },
  "POST /leads/[id]/next-step": {
    needs: "leads",
    said: "Put the next step at a time",
    body: wire.Step,
    answer: wire.Acted,
  },
  "POST /leads/[id]/close": {
    needs: "leads",
    said: "Close a lead with a reason",
    body: wire.Close,
    answer: wire.Acted,
  },
  "POST /leads/[id]/park": {
    needs: "leads",
    said: "Set a lead aside, in a cadence for parked leads or in none",
    body: bells.Park,
    answer: wire.Acted,
  },
  "POST /leads/[id]/excuse": {
    needs: "leads.move",
    said: "Nothing need be done about what rings, and why",
    body: bells.Excuse,
    answer: wire.Acted,
  },
  "POST /leads/[id]/promise": {
    needs: "leads",
    said: "What the lead was told, and for when: a bell rings then",
    body: bells.PromiseTo,
    answer: wire.Acted,
  },
  "POST /leads/[id]/asked-for": {
    needs: "leads",
    said: "They asked to be called at a time: the bell waits until then",
    body: bells.AskedFor,
    answer: wire.Acted,
  },
  "POST /leads/[id]/undo": {
    needs: "leads",
    said: "Take back the last act on a lead",
    body: wire.Undo,
    answer: wire.Acted,
  },
  "POST /leads/[id]/pin": {
    needs: "leads",
    said: "Pin what one should know when dialling; empty unpins",
    body: answering.Pin,
    answer: wire.Acted,
  },
  "POST /leads/[id]/stops": {
    needs: "leads",
    said: "Mark that a lead wants, or again allows, to be reached in some way",
    body: answering.MarkStop,
    answer: wire.Acted,
  },
  "POST /leads/[id]/shared": {
    needs: "leads",
    said: "A number or address is shared by several people, or not",
    body: setup.Shared,
    answer: wire.Acted,
  },
  "POST /leads/[id]/not-same": {
    needs: "leads.all",
    said: "A proposed match is somebody else",
    body: setup.NotSame,
    answer: wire.Acted,
  },
  "POST /leads/[id]/join": {
    needs: "leads.all",
    said: "Join another lead to this one",
    body: setup.Join,
    answer: wire.Acted,
  },
  "POST /leads/[id]/part": {
    needs: "leads.all",
    said: "Take apart again what was joined",
    body: setup.Part,
    answer: wire.Acted,
  },
  "POST /leads/[id]/give": {
    needs: "leads.move",
    said: "Move a lead to a person or a group",
    body: wire.Give,
    answer: wire.Acted,
  },
  "POST /leads/[id]/route": {
    needs: "leads.move",
    said: "Ask the rules again who gets it",
    answer: wire.Acted,
  },
  "POST /leads/[id]/credit": {
    needs: "leads.move",
    said: "Settle who it belongs to by agreement",
    body: routing.Credit,
    answer: wire.Acted,
  },
  "POST /leads/[id]/credit-turn": {
    needs: "leads.move",
    said: "Give the turn it cost back",
    body: routing.CreditTurn,
    answer: wire.Acted,
  },
  "POST /leads/[id]/wipe": {
    needs: "wipe",
    said: "Remove a test lead with everything about it",
    answer: z.object({ wiped: z.literal(true) }),
  },
});
