import { HOOK_EVENTS, type HookEvent } from "../../core/policy/hooks.ts";
import type { Desk } from "../../server/desk.ts";
import type { Delivery } from "../../server/hooks/hooks.ts";
import type * as wire from "./customer-schemas.ts";
import { iso, isoOrNull } from "./shape.ts";

/** Systems that are told. `id` and `secret` are of the one saved just now: a secret is shown as it is made, and never again. */
export function toHooks(desk: Desk, id: string | null = null, secret: string | null = null): wire.HooksSetup {
  return {
    hooks: desk.setup.policies.hooks.map((h) => ({
      ...h,
      events: [...h.events],
      hasSecret: desk.hooks.hasSecret(h.id),
    })),
    events: Object.entries(HOOK_EVENTS).map(([key, name]) => ({ key: key as HookEvent, name })),
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
