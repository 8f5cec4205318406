import type { AlertAbout } from "../../../../../../core/lead/events.ts";
import { brief, card } from "../../../../../../core/message/cards.ts";
import { LINK } from "../../../../../../core/message/outgoing.ts";
import { sampleLead } from "../../../../../../core/message/sample.ts";
import { ALERTS, waysFor } from "../../../../../../core/policy/alerts.ts";
import { endpoint, problem } from "../../../../../api/endpoint.ts";
import { TestAlert } from "../../../../../wire/answering-schemas.ts";

/** Whoever asks gets this alert now, about somebody made up, over the real channels. */
export const POST = endpoint(TestAlert, ({ desk, me, body }) => {
  if (!(body.about in ALERTS))
    return problem(422, "No such alert", "`about` names nothing one can be told of.");
  const about = body.about as AlertAbout;
  const { setup } = desk;
  const lead = sampleLead(setup, setup.sources[0]!, desk.clock.now());
  const heading = `A test: ${ALERTS[about]}`;
  const ways = waysFor(setup, me, about);
  const written = {
    chat: [me.chat, card(setup, lead, heading)],
    text: [me.phone, brief(setup, lead, heading)],
    email: [me.email, card(setup, lead, heading)],
  } as const;
  const channels = (["chat", "text", "email"] as const).filter((channel) => ways.includes(channel));
  desk.sql.transaction(() => {
    for (const channel of channels) {
      const [to, text] = written[channel];
      desk.queueNotice({
        channel,
        key: `alert-test:${desk.newId("trial")}`,
        to,
        subject: channel === "email" ? heading : null,
        body: text.replace(LINK, "").trimEnd(),
        personId: me.id,
        purpose: "trial",
      });
    }
  });
  desk.outbox.kick();
  return { ways: [...ways] };
});
