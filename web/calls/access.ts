import * as access from "../wire/access-schemas.ts";
import * as routing from "../wire/routing-schemas.ts";
import * as wire from "../wire/schemas.ts";
import { defineCalls, PAGE } from "./define.ts";

/** Accounts, keys and who changed what. */
export const ACCESS = defineCalls({
  "GET /setup/ways": {
    needs: "access",
    said: "Where mail, texts and team chat leave by; no password is ever told; and where the gateway reports to",
    answer: access.Ways,
  },
  "POST /setup/ways": {
    needs: "access",
    said: "Say where one of them leaves by, or that it does not any more",
    body: access.PutWay,
    answer: access.Ways,
  },
  "POST /setup/ways/test": {
    needs: "access",
    said: "Send the caller something by one of them now",
    body: access.TestWay,
    answer: access.WayTested,
  },
  "GET /backups": {
    needs: "access",
    said: "The backups there are, when the next one is due, and how the last one went",
    answer: access.Backups,
  },
  "POST /backups": {
    needs: "access",
    said: "Say when backups are made, how many are kept, and whether they are sealed",
    body: access.SaveBackups,
    answer: access.Backups,
  },
  "POST /backups/now": {
    needs: "access",
    said: "Back the desk up now; it goes on meanwhile",
    answer: access.Backups,
  },
  "GET /audit": {
    needs: "audit",
    said: "Who changed what, the newest first",
    query: {
      ...PAGE,
      by: "Only what this person changed, by id",
      about: "Only changes whose name has this in it",
      from: "From this day on, by the desk’s clock",
      to: "To this day, and with it",
    },
    answer: wire.listOf(routing.Audit),
  },
  "GET /access": {
    needs: "access",
    said: "Who can sign in, and what each role may do",
    answer: access.Access,
  },
  "POST /access/people/[id]/invite": {
    needs: "access",
    said: "Send somebody a link to choose a password by",
    answer: access.Invited,
  },
  "POST /access/people/[id]/sign-out": {
    needs: "access",
    said: "Sign somebody out everywhere",
    answer: access.Ended,
  },
  "GET /me/sessions": {
    needs: "in-person",
    said: "Where one is signed in",
    answer: wire.listOf(access.Session),
  },
  "POST /me/sessions": {
    needs: "in-person",
    said: "Sign out elsewhere",
    body: access.EndSessions,
    answer: access.Ended,
  },
  "GET /keys": { needs: "access", said: "API keys", answer: wire.listOf(access.Key) },
  "POST /keys": {
    needs: "access",
    said: "Make a key; it is shown once",
    body: access.MakeKey,
    answer: access.MadeKey,
  },
  "POST /keys/[id]/revoke": { needs: "access", said: "Revoke a key", answer: access.Revoked },
});
