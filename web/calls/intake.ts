import { z } from "zod";
import * as answering from "../wire/answering-schemas.ts";
import * as bells from "../wire/bells-schemas.ts";
import * as wire from "../wire/schemas.ts";
import * as setup from "../wire/setup-schemas.ts";
import { defineCalls, FILE, PAGE } from "./define.ts";

/** What comes in, and how it is read. */
export const INTAKE = defineCalls({
  "POST /held-replies": {
    needs: "setup.change",
    said: "Let the first replies of a source go that were held, or drop them",
    body: answering.ReleaseReplies,
    answer: answering.ReleasedReplies,
  },
  "GET /forms/[key]": {
    needs: "anybody",
    said: "A website form for anybody to fill in; open to other sites",
    answer: setup.WebForm.extend({ key: z.string(), token: z.string() }),
  },
  // Anybody's browser, with a name that we signed.
  "POST /site/views": {
    needs: "anybody",
    said: "A page of the company’s own was looked at, by somebody who agreed to be known",
    body: bells.SiteView,
    // JSON whatever it says it is: a page that is being left can send nothing else.
    takes: "text/plain",
    status: 204,
    answer: z.null(),
  },
  "GET /quarantine": {
    needs: "mend",
    said: "Inquiries that could not be understood",
    query: { ...PAGE, sourceId: "Only of this source" },
    answer: wire.listOf(wire.Quarantined),
  },
  "POST /quarantine/many": {
    needs: "mend",
    said: "Do one thing with many: try again, take in as they are, set aside as no inquiries, or put back",
    body: wire.QuarantineMany,
    answer: z.object({ done: z.number(), left: z.number() }),
  },
  "POST /quarantine/[id]/correct": {
    needs: "mend",
    said: "Take an inquiry in by what somebody read it as; what came is kept beside it",
    body: wire.Corrected,
    answer: wire.Replayed,
  },
  "POST /quarantine/replay": {
    needs: "mend",
    said: "Try everything in quarantine again",
    query: { sourceId: "Only of this source" },
    answer: z.object({ tried: z.number(), understood: z.number() }),
  },
  "POST /quarantine/[id]/replay": {
    needs: "mend",
    said: "Try an inquiry again",
    query: { insisted: "`true`: also what looked like spam or was written by a machine" },
    answer: wire.Replayed,
  },
  "GET /imports": { needs: "mend", said: "Lists that were loaded", answer: wire.listOf(setup.Import) },
  "POST /imports": {
    needs: "mend",
    said: "Load a list in the background",
    body: setup.StartImport,
    status: 201,
    answer: setup.Import,
  },
  "POST /imports/preview": {
    needs: "mend",
    said: "Keep a spreadsheet and show how it would be read",
    takes: "application/octet-stream",
    query: { name: "What it is called" },
    answer: setup.ImportPreview,
  },
  "POST /imports/check": {
    needs: "mend",
    said: "Go through a whole file without writing anything",
    body: setup.CheckImport,
    answer: setup.ImportCheck,
  },
  "GET /imports/[id]": { needs: "mend", said: "One list and how far it is", answer: setup.Import },
  "GET /imports/[id]/rejects.csv": {
    needs: "mend",
    said: "Refused rows with reasons, to mend and load again",
    answer: FILE,
    gives: "text/csv",
  },
  "POST /imports/[id]/undo": {
    needs: "mend",
    said: "Take a list back while nobody has worked on it",
    answer: z.object({ removed: z.number(), kept: z.number() }),
  },
  "GET /ads": { needs: "setup.read", said: "The ad platform's accounts, pages and forms", answer: setup.Ads },
  "POST /ads/connect": {
    needs: "setup.change",
    said: "Where to sign in at the ad platform",
    answer: z.object({ url: z.string() }),
  },
  "POST /ads/platform": {
    needs: "access",
    said: "Say where the ad platform is",
    body: setup.PutAds,
    answer: z.object({}),
  },
  "POST /ads/disconnect": {
    needs: "setup.change",
    said: "Forget what the ad platform let us do; sources stay",
    answer: z.object({}),
  },
  "POST /ads/forms": {
    needs: "setup.change",
    said: "Connect one form of the ad platform",
    body: setup.ConnectAds,
    status: 201,
    answer: setup.SourceRow,
  },
  "GET /sources": { needs: "signed-in", said: "Where inquiries come from", answer: wire.listOf(wire.Source) },
  "POST /sources": {
    needs: "setup.change",
    said: "A new source, as a draft",
    body: setup.NewSource,
    status: 201,
    answer: setup.SourceRow,
  },
  "GET /sources/[id]": {
    needs: "setup.read",
    said: "One source with its mapping, form, samples and versions",
    answer: setup.SourceDetail,
  },
  "POST /sources/[id]": {
    needs: "setup.change",
    said: "Change a source; it goes live only when nothing it needs is missing",
    body: setup.SourceChange,
    answer: setup.SourceDetail,
  },
  "POST /sources/[id]/test": {
    needs: "setup.change",
    said: "Send a sample through the real path as a marked test lead",
    body: setup.TestRun,
    answer: wire.Receipt.extend({ reason: z.string().nullable() }),
  },
  "POST /sources/[id]/try": {
    needs: "setup.read",
    said: "What a sample would become under a mapping; changes nothing",
    body: setup.TryMapping,
    answer: setup.Tried,
  },
  "POST /sources/[id]/questions": {
    needs: "setup.change",
    said: "Take over the ad form's questions as they are now",
    answer: setup.SourceDetail,
  },
  "POST /sources/[id]/catch-up": {
    needs: "setup.change",
    said: "Fetch from the ad platform what was missed",
    answer: z.object({ fetched: z.number(), fresh: z.number() }),
  },
  "GET /setup/sources": {
    needs: "setup.read",
    said: "Every source with how it does",
    answer: wire.listOf(setup.SourceRow),
  },
  "GET /setup/fields": {
    needs: "signed-in",
    said: "The company's own fields, tags and weights",
    answer: setup.KnownFields,
  },
  "POST /setup/fields": {
    needs: "setup.change",
    said: "Put fields, tags and weights in force",
    body: setup.FieldsSetup,
    answer: setup.FieldsSetup,
  },
});
