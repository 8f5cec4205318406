import { catalogue } from "../../core/lead/fields.ts";
import { HOOK_EVENTS, HOOK_TRAITS, type HookEvent } from "../../core/policy/hooks.ts";
import { listColumns } from "../../core/words/columns.ts";
import type { Desk } from "../../server/desk.ts";
import type { Delivery } from "../../server/hooks/hooks.ts";
import type * as wire from "./customer-schemas.ts";
import { iso, isoOrNull, mutable } from "./shape.ts";

/** Systems that are told. `id` and `secret` are of the one saved just now: a secret is shown as it is made, and never again. */
export function toHooks(desk: Desk, id: string | null = null, secret: string | null = null): wire.HooksSetup {
  const standing = desk.hooks.standing();
  return {
    hooks: desk.setup.policies.hooks.map((h) => ({
      ...(mutable(h) as wire.HooksSetup["hooks"][number]),
      hasSecret: desk.hooks.secrets.has(h.id),
      bothUntil: isoOrNull(desk.hooks.secrets.bothUntil(h.id)),
      waiting: standing.get(h.id)?.waiting ?? 0,
      aside: standing.get(h.id)?.aside ?? 0,
    })),
    events: Object.entries(HOOK_EVENTS).map(([key, name]) => ({ key: key as HookEvent, name })),
    traits: Object.entries(HOOK_TRAITS).map(([key, name]) => ({ key, name })),
    fields: listColumns(desk.setup).map(({ key, name }) => ({ key, name })),
    catalogue: catalogue(desk.setup) as wire.HooksSetup["catalogue"],
    id,
    secret,
  };
}

export function toDelivery(desk: Desk, row: Delivery): wire.DeliveryRow {
  const { id, hookId, event, at, state, attempts, nextAt, status, said, answeredAt, bodyJson } = row;
  return {
    id,
    hookId,
    hook: desk.setup.policies.hooks.find((h) => h.id === hookId)?.name ?? "a system that is told no more",
    event,
    at: iso(at),
    state,
    attempts,
    nextAt: state === "queued" ? iso(nextAt) : null,
    status,
    said,
    answeredAt: isoOrNull(answeredAt),
    body: bodyJson,
  };
}
