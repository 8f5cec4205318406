import { ALERTS } from "../../../../../core/policy/alerts.ts";
import { isOff } from "../../../../../core/policy/people.ts";
import { closeReasons } from "../../../../../core/policy/stages.ts";
import { waysFor } from "../../../../../core/policy/told.ts";
import type { AlertAbout } from "../../../../../core/vocabulary.ts";
import { serve } from "../../../../api/endpoint.ts";
import { stepsOf } from "../../../../wire/shape-company.ts";

/** A link of a desk that has sent many: what is counted with it never turns out too short. */
const MANY_LINKS = 1_000_000;

export const GET = serve("GET /me", ({ desk, me, rights, context }) => ({
  id: me.id,
  name: me.name,
  role: me.role,
  phone: me.phone,
  chat: me.chat,
  rehearsal: context.locals.rehearsal !== null,
  rights: [...rights],
  offDuty: isOff(me, desk.clock.now()),
  offUntil: isOff(me, desk.clock.now()) && me.offUntil ? new Date(me.offUntil).toISOString() : null,
  zone: me.hours.zone,
  draftWaits: rights.has("rules.publish") && desk.setup.policies.routing.draft !== null,
  firstSteps: rights.has("setup.change") ? stepsOf(desk).filter((s) => !s.done && !s.spared).length : 0,
  linkLength: desk.links.short(MANY_LINKS).length,
  giveReasons: [...desk.setup.policies.giveReasons],
  closeReasons: [...closeReasons(desk.setup.policies)],
  passReasons: desk.setup.policies.passReasons,
  notify: (Object.keys(ALERTS) as AlertAbout[]).filter((about) =>
    waysFor(desk.setup, me, about).includes("browser"),
  ),
}));
