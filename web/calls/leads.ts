import { z } from "zod";
import * as answering from "../wire/answering-schemas.ts";
import * as bells from "../wire/bells-schemas.ts";
import * as lists from "../wire/list-schemas.ts";
import * as routing from "../wire/routing-schemas.ts";
import * as wire from "../wire/schemas.ts";
import * as setup from "../wire/setup-schemas.ts";
import { defineCalls, FILE, PAGE } from "./define.ts";

/** How the leads of a file are asked for. */
const LISTED = {
  list: "Id of a saved list",
  where: "A condition as JSON",
  sort: "As for GET /leads",
  columns: "As for GET /leads",
};

/** Leads and what is done to them. */
export const LEADS = defineCalls({
  "GET /queue": {
    needs: "leads",
    said: "The day's work in its bands",
    query: {
      limit: PAGE.limit,
      later: "Also the leads of the band *later*",
      who: "Only those of a person by id, `me`, `offered` or `nobody`",
      source: "Only those of a source, by id",
    },
    answer: wire.Queue,
  },
  "GET /leads": {
    needs: "leads",
    said: "Find leads",
    query: {
      ...PAGE,
      q: "Any piece of a name, company, number or address",
      filter: "open, waiting, rung, answered, listed or closed",
      sort: "recent, created, name, company, stage, product, value, tries, tried or due; `-name` is the other way round",
      owner: "Only leads this person has or is offered",
      list: "Id of a saved list: its condition, order and columns",
      where: "A condition as JSON",
      columns: "Columns to fill, as GET /lists names them, separated by commas",
    },
    answer: lists.LeadsPage,
  },
  "GET /leads.csv": {
    needs: "leads",
    said: "Leads of a list or a condition, as CSV",
    query: LISTED,
    answer: FILE,
    gives: "text/csv",
  },
  "GET /leads.json": {
    needs: "leads",
    said: "The same as JSON: numbers as numbers, times in ISO 8601",
    query: LISTED,
    answer: FILE,
    gives: "application/json",
  },
  "GET /leads.vcf": {
    needs: "leads",
    said: "The same as vCards (RFC 6350), one a lead",
    query: LISTED,
    answer: FILE,
    gives: "text/vcard",
  },
  "GET /search": {
    needs: "leads",
    said: "Leads by any piece of what is known of them or was written, typing errors forgiven, the likeliest first",
    query: {
      q: "Words and numbers, all of which have to be there; `from:` a source, `with:` whoever has it",
      limit: PAGE.limit,
    },
    answer: lists.SearchPage,
  },
  "GET /today": {
    needs: "leads.all",
    said: "What a day has come to so far, or came to",
    query: { date: "A local date of the desk (2026-03-04); today without" },
    answer: lists.Today,
  },
  "GET /my-day": {
    needs: "leads",
    said: "What one did oneself on a day, the newest first, and what of it can still be taken back",
    query: { date: "A local date of the desk; today without" },
    answer: lists.MyDay,
  },
  "GET /lists": {
    needs: "leads",
    said: "Saved lists, and what leads can be listed by",
    query: { pinned: "Only the lists one has pinned" },
    answer: lists.Lists,
  },
  "POST /lists": {
    needs: "leads",
    said: "Keep a list under a name, or change one",
    body: lists.SaveList,
    status: 201,
    answer: lists.SavedList,
  },
  "POST /lists/[id]/remove": { needs: "leads", said: "Take a list away", status: 204, answer: z.null() },
  "POST /lists/[id]/look": {
    needs: "leads",
    said: "Say that one has looked at a list, pin it, begin with it or watch it, each for oneself",
    body: lists.LookAtList,
    answer: lists.SavedList,
  },
  "GET /lists/[id]/sends": {
    needs: "leads",
    said: "When and where to a list is sent by itself",
    answer: lists.ListSends,
  },
  "POST /lists/[id]/sends": {
    needs: "leads",
    said: "Have a list sent, by mail to somebody here or to another system",
    body: lists.SendList,
    status: 201,
    answer: lists.ListSend,
  },
  "POST /lists/[id]/sends/[send]/remove": {
    needs: "leads",
    said: "Send it no more",
    status: 204,
    answer: z.null(),
  },
  "POST /lists/[id]/sends/[send]/now": {
    needs: "leads",
    said: "Send it now as well",
    answer: lists.SentNow,
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
    said: "Do the same with many leads, each for itself: few at once, many in the background",
    body: bells.ActMany,
    answer: bells.ActedMany,
  },
  "GET /jobs/[id]": {
    needs: "leads.move",
    said: "How far something that is done with many leads has come",
    answer: bells.Job,
  },
  "POST /jobs/[id]/undo": {
    needs: "leads.move",
    said: "Take back what was done with many leads, each as it was where nothing has happened to it since",
    answer: bells.Job,
  },
  "GET /leads/[id]": { needs: "leads", said: "One lead", answer: wire.Lead },
  "GET /leads/[id]/sheet": { needs: "leads", said: "A lead as the desk shows it", answer: wire.Sheet },
  "GET /leads/[id]/lists": {
    needs: "leads",
    said: "Which of the lists one sees a lead is in",
    answer: wire.listOf(lists.ListName),
  },
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
