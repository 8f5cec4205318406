import { RIGHTS, ROLES, SCOPES, type Scope } from "../../core/access/access.ts";
import { nameOf, type Setup } from "../../core/policy/setup.ts";
import type { Accounts } from "../../server/access/accounts.ts";
import type { ApiKey } from "../../server/access/keys.ts";
import type { WaysOut } from "../../server/channels/ways-out.ts";
import type { Desk } from "../../server/desk.ts";
import type * as wire from "./access-schemas.ts";
import { iso } from "./shape.ts";

export function toAccess(desk: Desk, accounts: Accounts): wire.Access {
  const has = accounts.withAccount();
  return {
    people: desk.setup.people
      .filter((p) => !p.left)
      .map(({ id, name, email, role }) => ({ id, name, email, role, hasAccount: has.has(id) })),
    roles: Object.entries(ROLES).map(([role, rights]) => ({ role, rights: [...rights] })),
    rights: Object.entries(RIGHTS).map(([key, said]) => ({ key, said })),
    scopes: Object.entries(SCOPES).map(([key, { said }]) => ({ key: key as Scope, said })),
  };
}

export function toKey(setup: Setup, { scopes, at, by, lastUsedAt, revokedAt, ...key }: ApiKey): wire.Key {
  return {
    ...key,
    scopes: [...scopes],
    at: iso(at),
    by: nameOf(setup, by),
    lastUsedAt: lastUsedAt === null ? null : iso(lastUsedAt),
    revokedAt: revokedAt === null ? null : iso(revokedAt),
  };
}

/** Where the ways out lead, and whether they work. */
export function toWays(desk: Desk, ways: WaysOut | null, publicUrl: string): wire.Ways {
  const outages = desk.outbox.outages();
  return {
    rehearsal: ways === null,
    reports: {
      calls: `${publicUrl}/api/v1/carrier/calls`,
      messages: `${publicUrl}/api/v1/carrier/messages`,
      secret: desk.carrierSecret,
    },
    items: (ways?.states() ?? []).map((state) => {
      const down = outages.find((o) => o.channel === state.way);
      return {
        ...state,
        down: down ? { since: iso(down.since), error: down.error } : null,
        waiting: desk.outbox.waiting(state.way),
      };
    }),
  };
}
