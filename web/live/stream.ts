import type { QueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { AlertAbout } from "../../core/vocabulary.ts";
import type { Me } from "../wire/schemas.ts";
import { tellPickedUp } from "./calls.ts";
import { heardTime } from "./clock.ts";
import { notify } from "./notify.ts";
import { play } from "./sound.ts";

interface Told {
  readonly leadId: string | null;
  readonly kinds: readonly string[];
  readonly now: number;
  readonly personId?: string;
  readonly told?: readonly { readonly personId: string; readonly about: AlertAbout }[];
}

/** Changes that come together are answered with one look. */
const TOGETHER = 120;

/** What each part of the desk is shown by. */
const PARTS: Readonly<Record<string, readonly string[]>> = {
  import: ["imports"],
  source: ["sources"],
  quarantine: ["quarantine", "sources"],
  trouble: ["troubles"],
  calling: ["call", "phones"],
  rounds: ["rounds"],
  moved: ["queue", "people"],
  roster: ["people", "queue", "people-setup", "week"],
  setup: [
    "people",
    "queue",
    "me",
    "people-setup",
    "week",
    "routing",
    "bells",
    "hours",
    "parking",
    "morning",
    "cadences",
    "lab-choices",
    "letter",
  ],
  playback: ["playback"],
  backups: ["backups", "troubles", "privacy"],
  privacy: ["privacy", "person"],
  lab: ["lab", "needed-run"],
  book: ["board", "deal", "company", "contact", "companies", "contacts", "hand-over"],
  hooks: ["hooks", "deliveries"],
  lists: ["lists", "pinned-lists"],
  "list-told": ["lists", "pinned-lists"],
};

/**
 * One event stream a tab, which marks what it tells of as stale in the cache. Returns whether it is connected.
 * The browser reconnects on its own and says how far it had come.
 */
export function useStream(client: QueryClient): boolean {
  const [connected, setConnected] = useState(true);
  useEffect(() => {
    // What has come since the page was made is told first: the view may have asked before it came.
    const { event: after } = document.documentElement.dataset;
    const source = new EventSource(after ? `/api/v1/live?after=${after}` : "/api/v1/live");
    let leads = new Set<string>();
    let waiting: ReturnType<typeof setTimeout> | undefined;
    const refresh = () => {
      waiting = undefined;
      for (const id of leads) void client.invalidateQueries({ queryKey: ["sheet", id] });
      leads = new Set();
      void client.invalidateQueries({ queryKey: ["queue"] });
      void client.invalidateQueries({ queryKey: ["people"] });
      void client.invalidateQueries({ queryKey: ["outside"] });
      void client.invalidateQueries({ queryKey: ["sources"] });
      for (const key of [
        "managers-list",
        "parked",
        "morning",
        "rounds",
        "asked",
        "estimates",
        "asking",
        "listed",
        "lists",
        "today",
        "my-day",
      ])
        void client.invalidateQueries({ queryKey: [key] });
    };
    const soon = () => {
      waiting ??= setTimeout(refresh, TOGETHER);
    };
    source.addEventListener("lead", (event) => {
      const told = JSON.parse((event as MessageEvent<string>).data) as Told;
      heardTime(told.now);
      if (told.kinds[0] === "here") return void client.invalidateQueries({ queryKey: ["here", told.leadId] });
      if (told.kinds.includes("inquiry")) play("arrival");
      if (told.kinds.includes("rang")) play("ring");
      if (told.leadId && told.personId) tellPickedUp({ leadId: told.leadId, personId: told.personId });
      if (told.leadId && told.told) notify(client.getQueryData<Me>(["me"]), told.leadId, told.told);
      if (told.leadId) leads.add(told.leadId);
      soon();
    });
    source.addEventListener("part", (event) => {
      const { kinds, told } = JSON.parse((event as MessageEvent<string>).data) as Told;
      if (told) notify(client.getQueryData<Me>(["me"]), null, told);
      for (const kind of kinds)
        for (const key of PARTS[kind] ?? []) void client.invalidateQueries({ queryKey: [key] });
    });
    const everything = (event: Event) => {
      const { now } = JSON.parse((event as MessageEvent<string>).data) as Partial<Told>;
      if (now) heardTime(now);
      void client.invalidateQueries();
    };
    source.addEventListener("all", everything);
    source.addEventListener("reset", everything);
    source.addEventListener("begun-again", () => location.reload());
    let greeted = false;
    source.addEventListener("hello", (event) => {
      // The first greeting comes with a page just loaded; a later one after a cut, when anything may be old.
      if (greeted) everything(event);
      greeted = true;
    });
    source.onopen = () => setConnected(true);
    source.onerror = () => setConnected(false);
    return () => {
      source.close();
      clearTimeout(waiting);
    };
  }, [client]);
  return connected;
}
