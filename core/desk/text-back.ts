import { readablePhone } from "../contact/readable-phone.ts";
import type { Lead } from "../lead/lead.ts";
import { personOf } from "../policy/setup.ts";
import { pass, take } from "./hand-off.ts";
import type { Decided, World } from "./plan.ts";

/** What somebody of ours means who texts back to an offer: `1` takes it, `2` passes, with a reason after it or without. */
export type TextBack = { readonly does: "take" } | { readonly does: "pass"; readonly reason: string };

/** Read such a text; null when it is none, and then a text like any other. */
export function readTextBack(text: string): TextBack | null {
  const [, digit, rest = ""] = /^\s*([12])(?:[\s.,:;)-]+(.*))?\s*$/s.exec(text) ?? [];
  if (digit === "1") return { does: "take" };
  return digit === "2" ? { does: "pass", reason: rest.trim() } : null;
}

/** Of the leads offered to somebody, the one a text without a name is about: the one offered last. */
export function offeredLast(leads: readonly Lead[], personId: string): Lead | null {
  const open = leads.filter(
    (l) => l.handOff && l.handOff.state !== "taken" && l.handOff.to.includes(personId),
  );
  return open.sort((a, b) => b.lastActivityAt - a.lastActivityAt)[0] ?? null;
}

/** Do what they texted, and text them what came of it. */
export function textBack(world: World, personId: string, said: TextBack): Decided {
  const { setup } = world;
  const decided =
    said.does === "take"
      ? take(world, personId)
      : pass(world, personId, said.reason || (setup.policies.passReasons[0] ?? "by text"));
  if (!decided.ok) return decided;
  const person = personOf(setup, personId)!;
  const { after } = decided.plan;
  const phone = after.phones[0];
  const name = after.name ?? after.company ?? "the lead";
  const body =
    said.does === "take"
      ? `Yours: ${name}${phone ? `, ${readablePhone(phone)}` : ""}. Call now.`
      : `${name} goes to the next.`;
  const alert = {
    id: world.id("msg"),
    key: `text-back:${decided.plan.actId}`,
    channel: "text" as const,
    to: person.phone,
    from: setup.policies.company.textLine,
    subject: null,
    body,
    leadId: after.id,
    purpose: said.does === "take" ? ("given" as const) : ("gone" as const),
    personId,
    link: null,
  };
  return { ok: true, plan: { ...decided.plan, alerts: [...decided.plan.alerts, alert] } };
}
