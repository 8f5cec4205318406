import type { APIContext } from "astro";
import { RIGHTS, type Right, ROLES, SCOPES } from "../../core/access/access.ts";
import type { Person } from "../../core/policy/people.ts";
import { personOf } from "../../core/policy/policy.ts";
import type { Desk } from "../../server/desk.ts";

/** Who makes a call, and what they may do. */
export interface Caller {
  readonly me: Person;
  readonly rights: ReadonlySet<Right>;
  /** Whether they may change anything: a key made for reading may not. */
  readonly writes: boolean;
  /** By an API key rather than by signing in. */
  readonly keyed: boolean;
}

/** The key that always works in rehearsal. */
const REHEARSAL_KEY = "rehearsal";
const EVERYTHING: ReadonlySet<Right> = new Set(Object.keys(RIGHTS) as Right[]);

/** Who asks by their key, their session, or in rehearsal by whom they say they are; null when nobody is signed in. */
export async function identify({
  locals,
  cookies,
  request,
}: Pick<APIContext, "locals" | "cookies" | "request">): Promise<Caller | null | "unknown-key"> {
  const { desk, rehearsal, accounts } = locals;
  const sent = request.headers.get("authorization");
  const key = sent?.replace(/^Bearer\s+/i, "").trim();
  if (key !== undefined) {
    if (rehearsal && key === REHEARSAL_KEY)
      return { ...inRehearsal(desk.setup.people, cookies), rights: EVERYTHING };
    return byKey(desk, key) ?? "unknown-key";
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
function byKey(desk: Desk, key: string): Caller | null {
  const known = desk.keys.find(key);
  const me = known && personOf(desk.setup, known.by);
  if (!known || !me || me.left) return null;
  const own = new Set(ROLES[me.role]);
  const rights = known.scopes.flatMap((scope) => SCOPES[scope].rights).filter((right) => own.has(right));
  return {
    me,
    rights: new Set(rights),
    writes: known.scopes.some((scope) => SCOPES[scope].writes),
    keyed: true,
  };
}

/** What somebody may do who has signed in. */
export function byRole(me: Person): Caller {
  return { me, rights: new Set(ROLES[me.role]), writes: true, keyed: false };
}
