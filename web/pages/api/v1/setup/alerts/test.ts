import { sampleLead } from "../../../../../../core/desk/sample-lead.ts";
import { brief, card, headingOf } from "../../../../../../core/message/cards.ts";
import { LINK } from "../../../../../../core/message/outgoing.ts";
import { ALERTS } from "../../../../../../core/policy/alerts.ts";
import { messagesFor, reachedAt, waysFor } from "../../../../../../core/policy/told.ts";
import { serve } from "../../../../../api/endpoint.ts";

/** Whoever asks gets this alert now, about somebody made up, over the real channels. */
export const POST = serve("POST /setup/alerts/test", ({ desk, me, body }) => {
  const { about } = body;
  const { setup } = desk;
  const lead = sampleLead(setup, setup.sources[0]!, desk.clock.now());
  const heading = `A test: ${about === "quiet" || about === "list" ? ALERTS[about] : headingOf(setup, lead, about)}`;
  const ways = messagesFor(setup, me, about, desk.looker.unset);
  desk.sql.transaction(() => {
    for (const channel of ways) {
      const text = (channel === "text" ? brief : card)(setup, lead, heading);
      desk.queueNotice({
        channel,
        key: `alert-test:${desk.newId("trial")}`,
        to: reachedAt(me, channel),
        subject: channel === "email" ? heading : null,
        body: text.replace(LINK, "").trimEnd(),
        personId: me.id,
        purpose: "trial",
      });
    }
  });
  desk.outbox.kick();
  const browser = waysFor(setup, me, about).includes("browser");
  return { ways: [...(browser ? ["browser"] : []), ...ways] };
});
