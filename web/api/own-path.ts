/**
 * Where to go after signing in: only to a place of our own. Read as a browser reads it, which drops tabs and line breaks
 * and takes `//elsewhere` for another site.
 */
export function ownPath(wanted: string | null): string {
  const home = "http://desk.invalid";
  if (!wanted?.startsWith("/") || !URL.canParse(wanted, home)) return "/";
  const url = new URL(wanted, home);
  const path = `${url.pathname}${url.search}`;
  return url.origin === home && !path.startsWith("//") ? path : "/";
}
