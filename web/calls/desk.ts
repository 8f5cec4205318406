import { z } from "zod";
import { CallReport } from "../../server/calls/carrier.ts";
import { OutReport } from "../../server/calls/dialer.ts";
import { TextReceipt } from "../../server/messages/receipts.ts";
import * as answering from "../wire/answering-schemas.ts";
import * as bells from "../wire/bells-schemas.ts";
import * as routing from "../wire/routing-schemas.ts";
import * as wire from "../wire/schemas.ts";
import { defineCalls, FILE, PAGE } from "./define.ts";

/** What everybody at the desk uses. */
export const DESK = defineCalls({
  "GET /health": {
    needs: "anybody",
    said: "Whether the desk is ready to take inquiries, and which of its parts are well; 503 while it is not ready",
    answer: z.object({
      ok: z.boolean(),
      checks: z.record(z.string(), z.boolean()),
      backupAge: z.number().nullable().describe("Seconds"),
    }),
  },
  "POST /health": {
    needs: "anybody",
    said: "Takes anything and does nothing: what a call costs before any work",
    takes: "*/*",
    answer: z.object({ ok: z.literal(true) }),
  },
  "GET /openapi.json": {
    needs: "anybody",
    said: "This document",
    answer: z.object({ openapi: z.string() }).loose(),
  },
  // Signed by the carrier, checked there.
  "POST /carrier/messages": {
    needs: "anybody",
    said: "What the gateway says of a text it has taken: delivered, or failed and why; signed by Standard Webhooks",
    body: TextReceipt,
    // Read by its handler, which checks who signed it first.
    takes: "application/json",
    status: 202,
    answer: z.object({}),
  },
  "POST /carrier/calls": {
    needs: "anybody",
    said: "What the carrier reports of a call; signed by Standard Webhooks",
    body: CallReport.or(OutReport),
    // Read by its handler, which checks who signed it first.
    takes: "application/json",
    status: 202,
    answer: z.object({ leadId: z.string().nullable() }).loose(),
  },
  "POST /faults": {
    needs: "signed-in",
    said: "Write into the log that something broke in a browser",
    body: wire.Fault,
    answer: wire.Noted,
  },
  "GET /me": { needs: "signed-in", said: "Who is asking", answer: wire.Me },
  "GET /people": {
    needs: "signed-in",
    said: "Who works here, and who is on duty",
    answer: wire.listOf(wire.Person),
  },
  "GET /groups": {
    needs: "signed-in",
    said: "Groups a lead can be handed to",
    answer: wire.listOf(wire.Group),
  },
  "GET /outcomes": {
    needs: "signed-in",
    said: "What a try can come to, and the next step each sets",
    answer: wire.listOf(wire.Outcome),
  },
  "GET /troubles": {
    needs: "signed-in",
    said: "What is wrong with the whole desk now: ways out, duty, silent sources, late bells",
    answer: wire.listOf(answering.Trouble),
  },
  "GET /live": {
    needs: "signed-in",
    said: "Server-sent events of what changes; resumes by `Last-Event-ID`",
    query: { after: "As `Last-Event-ID`" },
    answer: z.string(),
    gives: "text/event-stream",
  },
  "GET /calls": {
    needs: "leads",
    said: "The call the caller is in, or whose outcome they have not said yet",
    answer: answering.OpenCall.nullable(),
  },
  "POST /calls": {
    needs: "leads",
    said: "Call a lead: the carrier rings the caller, then the lead",
    body: answering.PlaceCall,
    status: 201,
    answer: answering.OpenCall,
  },
  "POST /calls/[id]/hang-up": {
    needs: "leads",
    said: "Hang up",
    answer: z.object({ asked: z.literal(true) }),
  },
  "POST /calls/[id]/notes": {
    needs: "leads",
    said: "Keep what is typed while talking",
    body: answering.CallNotes,
    answer: z.object({ kept: z.boolean() }),
  },
  "POST /calls/[id]/done": {
    needs: "leads",
    said: "Put the call aside without an outcome",
    answer: z.object({ done: z.boolean() }),
  },
  "GET /managers-list": {
    needs: "leads.move",
    said: "What rang, what nobody took, what is stuck, by part and by person",
    answer: bells.ManagersList,
  },
  "GET /parked": {
    needs: "leads.all",
    said: "Parked leads, those to look at first",
    query: {
      ...PAGE,
      text: "Only those with this in name, company, address or number",
      reason: "Only those parked for this reason",
      due: "`true`: only those whose next look is today or before",
      by: "`look`: next look first; `lately` or `longest`: by when something last happened",
    },
    answer: bells.ParkedList,
  },
  "GET /morning": {
    needs: "leads.move",
    said: "The morning summary as it would be sent now",
    answer: bells.MorningSummary,
  },
  "POST /morning": {
    needs: "setup.change",
    said: "Switch the morning summary on or off",
    body: bells.SaveMorning,
    answer: bells.MorningSummary,
  },
  "POST /morning/send": { needs: "leads.move", said: "Send the summary to managers now", answer: bells.Sent },
  "GET /files/[id]": {
    needs: "signed-in",
    said: "A file that came with something",
    query: { name: "What to call it" },
    answer: FILE,
    gives: "application/octet-stream",
  },
  "POST /files": {
    needs: "leads",
    said: "Keep a file to send along with a mail",
    takes: "application/octet-stream",
    query: { name: "What it is called" },
    status: 201,
    answer: answering.File,
  },
  "GET /inquiries/[id]/original": {
    needs: "leads.all",
    said: "What arrived, byte for byte",
    answer: FILE,
    gives: "application/octet-stream",
  },
  "POST /messages/[id]/resend": {
    needs: "leads.all",
    said: "Put a message that failed for good back in line",
    answer: z.object({ queued: z.literal(true) }),
  },
  "POST /me/reach": {
    needs: "signed-in",
    said: "Say where one is reached: one's own phone, and name in the team chat",
    body: wire.Reach,
    answer: wire.Reach,
  },
  "POST /me/duty": {
    needs: "signed-in",
    said: "Go on or off duty",
    body: routing.Duty,
    answer: routing.Duty,
  },
});
