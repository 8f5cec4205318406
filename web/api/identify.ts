import type { APIContext } from "astro";
import { RIGHTS, type Right, ROLES, rightsOfKey } from "../../core/access/access.ts";
import type { Person } from "../../core/policy/people.ts";
import { personOf } from "../../core/policy/setup.ts";
import type { Desk } from "../../server/desk.ts";

/** Who makes a call, and what they may do. */
export interface Caller {
  readonly me: Person;
  /** What they may do with this call: a key may read more than it may change. */
  readonly rights: ReadonlySet<Right>;
  /** Whether they may change anything: a key made for reading may not. */
  readonly writes: boolean;
  /** The API key that acts for them; null when they have signed in themselves. */
  readonly key: { readonly id: string; readonly name: string } | null;
  /** By what is sent with every request and not by a cookie, which a browser would send for other sites too. */
  readonly said: boolean;
}

/** The key that always works in rehearsal. */
const REHEARSAL_KEY = "rehearsal";
const EVERYTHING: ReadonlySet<Right> = new Set(Object.keys(RIGHTS) as Right[]);

/** Whether a method changes nothing. */
export const isReading = (method: string) => method === "GET" || method === "HEAD";

/** Who asks by their key, their session, or in rehearsal by whom they say they are; null when nobody is signed in. */
export async function identify({
  locals,
  cookies,
  request,
}: Pick<APIContext, "locals" | "cookies" | "request">): Promise<Caller | null | "unknown-key"> {
  const { desk, rehearsal, accounts } = locals;
  const sent = request.headers.get("authorization");
  const key = sent?.replace(/^Bearer +/i, "").trim();
  if (key !== undefined) {
    if (rehearsal && key === REHEARSAL_KEY)
      return { ...inRehearsal(desk.setup.people, cookies), rights: EVERYTHING, said: true };
    return byKey(desk, key, !isReading(request.method)) ?? "unknown-key";
  }
  const signedIn = await accounts.whoIs(request.headers);
  if (signedIn) return byRole(signedIn);
  return rehearsal ? inRehearsal(desk.setup.people, cookies) : null;
}

/** In rehearsal the browser is whoever it says it is; a coordinator when it says nothing. */
function inRehearsal(people: readonly Person[], cookies: APIContext["cookies"]): Caller {
  const said = cookies.get("kb_me")?.value;
  const here = people.filter((p) => !p.left);
  const me = here.find((p) => p.id === said) ?? here.find((p) => p.role === "coordinator") ?? here[0]!;
  return byRole(me);
}

/** A key acts for whoever made it, and may do what both of them may. */
function byKey(desk: Desk, key: string, writing: boolean): Caller | null {
  const known = desk.keys.find(key);
  const me = known && personOf(desk.setup, known.by);
  if (!known || !me || me.left) return null;
  return {
    me,
    rights: rightsOfKey(known.scopes, me.role, writing),
    writes: desk.keys.writes(known),
    key: { id: known.id, name: known.name },
    said: true,
  };
}

/** What somebody may do who has signed in. */
function byRole(me: Person): Caller {
  return { me, rights: new Set(ROLES[me.role]), writes: true, key: null, said: false };
}
