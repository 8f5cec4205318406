import * as routing from "../wire/routing-schemas.ts";
import * as wire from "../wire/schemas.ts";
import { defineCalls } from "./define.ts";

/** People, groups, rules of routing, playback and fair shares. */
export const ROUTING = defineCalls({
  "GET /setup/people": { needs: "setup.read", said: "People and groups, whole", answer: routing.PeopleSetup },
  "POST /setup/people": {
    needs: "people",
    said: "Save somebody; an empty id makes a new person",
    body: routing.SavePerson,
    answer: routing.PeopleSetup,
  },
  "GET /setup/people/week": {
    needs: "setup.read",
    said: "Who is on duty when, and where nobody is",
    query: { from: "A time in the week; this week when left out" },
    answer: routing.Week,
  },
  "POST /setup/people/[id]/duty": {
    needs: "people",
    said: "Switch somebody on or off duty",
    body: routing.Duty,
    answer: routing.PeopleSetup,
  },
  "POST /setup/people/[id]/remove": { needs: "access", said: "Somebody leaves", answer: routing.PeopleSetup },
  "POST /setup/groups": {
    needs: "people",
    said: "Save a group; an empty id makes a new one",
    body: routing.FullGroup,
    answer: routing.PeopleSetup,
  },
  "POST /setup/groups/[id]/remove": {
    needs: "people",
    said: "Remove a group no rule offers to",
    answer: routing.PeopleSetup,
  },
  "GET /setup/routing": {
    needs: "setup.read",
    said: "The rules, live and drafted, and what they lack",
    answer: routing.RoutingSetup,
  },
  "POST /setup/routing/draft": {
    needs: "rules.draft",
    said: "Keep a draft of the rules",
    body: routing.RuleSet,
    answer: routing.RoutingSetup,
  },
  "POST /setup/routing/drop": {
    needs: "rules.draft",
    said: "Throw the draft away",
    answer: routing.RoutingSetup,
  },
  "POST /setup/routing/try": {
    needs: "setup.read",
    said: "What the rules would decide about a lead now, with every thought",
    body: routing.TryRouting,
    answer: wire.Trace,
  },
  "GET /setup/routing/versions": {
    needs: "setup.read",
    said: "Every version of the rules",
    answer: wire.listOf(routing.Version),
  },
  "POST /setup/routing/publish": {
    needs: "rules.publish",
    said: "Put the draft in force as the next version",
    body: routing.Publish,
    answer: routing.RoutingSetup,
  },
  "POST /setup/routing/turns": {
    needs: "rules.publish",
    said: "Change turns, standby and reasons for passing",
    body: routing.Turns,
    answer: routing.RoutingSetup,
  },
  "POST /playbacks": {
    needs: "rules.draft",
    said: "Play rules over what really came in",
    body: routing.StartPlayback,
    answer: routing.Playback,
  },
  "GET /playbacks/[id]": {
    needs: "rules.draft",
    said: "How far a playback has come, and what it found",
    answer: routing.Playback,
  },
  "POST /playbacks/[id]/cancel": {
    needs: "rules.draft",
    said: "End a playback early",
    answer: routing.Playback,
  },
  "GET /fair-share": {
    needs: "figures",
    said: "How hand-offs fell out, per group and person",
    query: { from: "When left out, `days` ago", days: "Thirty when left out", to: "Now when left out" },
    answer: routing.FairShare,
  },
});
