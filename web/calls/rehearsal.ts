import { z } from "zod";
import * as answering from "../wire/answering-schemas.ts";
import * as wire from "../wire/schemas.ts";
import * as setup from "../wire/setup-schemas.ts";
import { defineCalls } from "./define.ts";

/** The world outside, played. */
export const REHEARSAL = defineCalls({
  "GET /rehearsal/clock": { needs: "rehearsal", said: "Rehearsal: what time it is", answer: wire.Clock },
  "POST /rehearsal/clock": {
    needs: "rehearsal",
    said: "Rehearsal: move time; answers when all due work is done",
    body: wire.MoveClock,
    answer: wire.Moved,
  },
  "GET /rehearsal/outside": {
    needs: "rehearsal",
    said: "Rehearsal: what the outside has received",
    query: { limit: "Only the newest so many", channel: "text, email, chat or call", since: "ISO 8601" },
    answer: wire.listOf(wire.Outside),
  },
  "POST /rehearsal/text": {
    needs: "rehearsal",
    said: "Rehearsal: the lead texts",
    body: wire.TextIn,
    answer: z.object({ leadId: z.string().nullable() }),
  },
  "POST /rehearsal/call": {
    needs: "rehearsal",
    said: "Rehearsal: the lead calls",
    body: setup.CallIn,
    answer: z.object({ leadId: z.string().nullable() }),
  },
  "POST /rehearsal/email": {
    needs: "rehearsal",
    said: "Rehearsal: the lead writes a mail, over real SMTP",
    body: setup.EmailIn,
    answer: z.object({ accepted: z.literal(true), messageId: z.string() }),
  },
  "POST /rehearsal/ad-form": {
    needs: "rehearsal",
    said: "Rehearsal: somebody fills in an ad form",
    body: wire.AdFormIn,
    status: 202,
    answer: wire.Receipt,
  },
  "POST /rehearsal/ad-question": {
    needs: "rehearsal",
    said: "Rehearsal: a question is added to a running ad form",
    body: wire.AdQuestionIn,
    answer: z.object({ added: z.literal(true) }),
  },
  "POST /rehearsal/begin": {
    needs: "rehearsal",
    said: "Rehearsal: throw everything away and begin again",
    body: wire.Begin,
    answer: wire.Begun,
  },
  "GET /rehearsal/tutorial": {
    needs: "rehearsal",
    said: "Rehearsal: what one learns in one’s role, and which steps were done",
    query: { page: "A page one has come to" },
    answer: wire.Tutorial,
  },
  "POST /rehearsal/tutorial": {
    needs: "rehearsal",
    said: "Rehearsal: begin to learn, begin again, or leave it",
    body: wire.SetTutorial,
    answer: wire.Tutorial,
  },
  "GET /rehearsal/hooks": {
    needs: "rehearsal",
    said: "Rehearsal: a system that can be told by webhook, and what it was told",
    answer: wire.HookReceiver,
  },
  "GET /rehearsal/bucket": {
    needs: "rehearsal",
    said: "Rehearsal: a bucket backups can be copied to, with its key, and what lies there",
    answer: wire.StandinBucket,
  },
  "GET /rehearsal/traffic": {
    needs: "rehearsal",
    said: "Rehearsal: whether inquiries come by themselves, and what people have done about them",
    answer: wire.Traffic,
  },
  "POST /rehearsal/traffic": {
    needs: "rehearsal",
    said: "Rehearsal: have so many inquiries come by themselves in a minute, and our people act; 0 ends it",
    body: wire.SetTraffic,
    answer: wire.Traffic,
  },
  "GET /rehearsal/down": {
    needs: "rehearsal",
    said: "Rehearsal: parts of the world outside that are down",
    answer: wire.Downs,
  },
  "POST /rehearsal/down": {
    needs: "rehearsal",
    said: "Rehearsal: take a part of the world outside down, or bring it back",
    body: wire.SetDown,
    answer: wire.Downs,
  },
  "GET /rehearsal/forms": {
    needs: "rehearsal",
    said: "Rehearsal: ad forms a source is connected to",
    answer: wire.listOf(
      z.object({
        sourceKey: z.string(),
        name: z.string(),
        questions: z.array(
          z.object({
            field: z.string(),
            label: z.string(),
            choices: z.array(z.string()).optional(),
          }),
        ),
      }),
    ),
  },
  "POST /rehearsal/me": {
    needs: "rehearsal",
    said: "Rehearsal: be somebody else of the company, in this browser",
    body: wire.Take,
    answer: wire.Take,
  },
  "GET /rehearsal/phone": {
    needs: "rehearsal",
    said: "Rehearsal: calls the desk has on the line",
    answer: wire.listOf(answering.OnTheLine),
  },
  "POST /rehearsal/phone": {
    needs: "rehearsal",
    said: "Rehearsal: the lead’s phone does something",
    body: answering.PlayPhone,
    answer: z.object({ done: z.literal(true) }),
  },
});
