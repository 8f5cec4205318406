import type { Needs } from "../calls/define.ts";

/** What pages need, by the beginning of their path: the longest that fits counts. Others need somebody signed in. */
const PAGES: Readonly<Record<string, Needs>> = {
  "/sign-in": "anybody",
  "/confirm/": "anybody",
  "/join/": "anybody",
  "/reset": "anybody",
  "/api/auth": "anybody",
  "/b/": "anybody",
  "/e/": "anybody",
  "/f/": "anybody",
  "/l/": "anybody",
  "/leads": "leads",
  "/list": "leads.move",
  "/logo/": "anybody",
  "/m/": "anybody",
  "/nothing-here": "anybody",
  "/api": "anybody",
  "/board": "leads",
  "/customers": "leads",
  "/parked": "leads.all",
  "/rounds": "leads",
  "/t/": "anybody",
  "/today": "leads",
  "/figures": "figures",
  "/lab": "rules.draft",
  "/u/": "anybody",
  "/setup": "setup.read",
  "/setup/quarantine": "mend",
  "/setup/imports": "mend",
  "/setup/playback": "rules.draft",
  "/setup/shares": "figures",
  "/setup/access": "access",
  "/setup/ways": "access",
  "/setup/backups": "access",
  "/setup/privacy": "privacy",
  "/setup/hooks": "access",
  "/setup/changes": "audit",
  "/rehearsal": "rehearsal",
};

/** What the page at that path needs. */
export function pageNeeds(path: string): Needs {
  // As the pages are found: a slash too many makes no other page.
  const plain = path.replace(/\/{2,}/g, "/");
  const [best] = Object.keys(PAGES)
    .filter((start) => plain.startsWith(start))
    .sort((a, b) => b.length - a.length);
  return best ? PAGES[best]! : "signed-in";
}
