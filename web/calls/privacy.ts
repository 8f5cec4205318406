import { z } from "zod";
import * as wire from "../wire/privacy-schemas.ts";
import { Acted } from "../wire/schemas.ts";
import { defineCalls, FILE } from "./define.ts";

/** A person's data: handed out, and erased. */
export const PRIVACY = defineCalls({
  "GET /privacy": {
    needs: "privacy",
    said: "Who is to be erased, who was, and how long people are kept",
    answer: wire.Privacy,
  },
  "POST /privacy": {
    needs: "privacy",
    said: "Say how long people are kept",
    body: wire.SavePrivacy,
    answer: wire.Privacy,
  },
  "POST /privacy/try": {
    needs: "privacy",
    said: "Whom a rule would list the next night; nothing changes",
    body: wire.TryRetention,
    answer: wire.TriedRetention,
  },
  "POST /privacy/[id]/keep": {
    needs: "privacy",
    said: "Keep somebody who is to be erased: everything is as it was, where nothing has happened since",
    answer: wire.Kept,
  },
  "GET /privacy/person-schema.json": {
    needs: "signed-in",
    said: "The JSON Schema of `person.json` in what is handed out",
    answer: z.record(z.string(), z.unknown()),
  },
  "GET /leads/[id]/person": {
    needs: "privacy",
    said: "What is kept of the person behind a lead, in numbers, and what they agreed to",
    answer: wire.PersonSummary,
  },
  "GET /leads/[id]/person.zip": {
    needs: "privacy",
    said: "Everything known of the person behind a lead, to be handed to them: a page, JSON, vCard, mails, calls, recordings, files and what arrived",
    answer: FILE,
    gives: "application/zip",
  },
  "POST /leads/[id]/erase": {
    needs: "privacy",
    said: "Have everything that names the person behind a lead erased the next night; until then it can be taken back",
    body: wire.Erase,
    answer: Acted,
  },
});
