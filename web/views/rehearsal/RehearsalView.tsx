import { readablePhone } from "../../../core/contact/readable-phone.ts";
import { dayTime } from "../../../core/time/words.ts";
import { App } from "../../frame/App.tsx";
import { useNow } from "../../live/clock.ts";
import { useOutside, usePeople, useQueue } from "../../live/queries.ts";
import { Empty } from "../../ui/Empty.tsx";
import type { Outside } from "../../wire/schemas.ts";
import { BeginTutorial } from "../tutorial/Tutorial.tsx";
import { BeginAgain } from "./BeginAgain.tsx";
import { BucketStand } from "./BucketStand.tsx";
import { HookReceiver } from "./HookReceiver.tsx";
import { LiveTraffic } from "./LiveTraffic.tsx";
import { PlayLead, Time } from "./play.tsx";
import styles from "./Rehearsal.module.css";
import { TextBack } from "./TextBack.tsx";
import { TheirPhone } from "./TheirPhone.tsx";
import { WhatWorks } from "./WhatWorks.tsx";

const PLACES = [
  { channel: "text", name: "Phones", empty: "No phone has received a text yet." },
  { channel: "email", name: "Mailboxes", empty: "No mailbox has received anything yet." },
  { channel: "chat", name: "Team chat", empty: "Nobody has been told anything in chat yet." },
] as const;

/** Rehearsal: the outside world in a box. */
export function RehearsalView() {
  return (
    <App view="Rehearsal">
      <main className={styles.page}>
        <div className={styles.left}>
          <h1>Rehearsal</h1>
          <p className={styles.lead}>
            Everything here goes the way a real inquiry goes: through the intake, the rules, the outbox and
            out again. Only the world outside is played.
          </p>
          <BeginTutorial />
          <Time />
          <LiveTraffic />
          <TheirPhone />
          <PlayLead />
          <WhatWorks />
          <HookReceiver />
          <BucketStand />
          <BeginAgain />
        </div>
        {PLACES.map((place) => (
          <Received key={place.channel} {...place} />
        ))}
      </main>
    </App>
  );
}

/** What one part of the outside world has received, newest first. */
function Received({ channel, name, empty }: (typeof PLACES)[number]) {
  const { data: messages } = useOutside(channel);
  const { data: queue } = useQueue();
  return (
    <section className={styles.received} aria-label={name}>
      <h2>{name}</h2>
      {messages?.length === 0 && <Empty title="Nothing yet">{empty} Play a lead and it appears here.</Empty>}
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard */}
      <ol tabIndex={0} aria-label={`${name}, newest first`}>
        {messages?.map((message) => (
          <Message key={message.id} message={message} zone={queue?.zone ?? "UTC"} />
        ))}
      </ol>
    </section>
  );
}

function Message({ message, zone }: { readonly message: Outside; readonly zone: string }) {
  const now = useNow();
  const { data: people = [] } = usePeople();
  const ours = people.find((p) => p.phone === message.to)?.name;
  const links = [...new Set([message.url ?? [], message.body.match(/https?:\/\/[^\s)]+/g) ?? []].flat())];
  const body = links
    .reduce((text, link) => text.replaceAll(`(${link})`, "").replaceAll(link, ""), message.body)
    .trim();
  return (
    <li className={styles.message}>
      <p className={styles.to}>
        <b>
          {ours ? `${ours}’s phone` : message.channel === "text" ? readablePhone(message.to) : message.to}
        </b>{" "}
        <time dateTime={message.at}>{dayTime(Date.parse(message.at), zone, now)}</time>
      </p>
      {message.subject && <p className={styles.subject}>{message.subject}</p>}
      <p className={styles.body}>{body.replace(/\*/g, "")}</p>
      {links
        .filter((link) => URL.canParse(link))
        .map((link) => (
          <a key={link} href={new URL(link).pathname + new URL(link).search} target="_blank" rel="noreferrer">
            {nameOfLink(new URL(link).pathname)}
          </a>
        ))}
      {ours && message.channel === "text" && <TextBack name={ours} from={message.to} to={message.from} />}
    </li>
  );
}

/** What a link of ours in a message is for. */
function nameOfLink(path: string): string {
  if (path.startsWith("/t/")) return "Take or pass";
  if (path.startsWith("/u/")) return "Unsubscribe";
  if (path.startsWith("/l/")) return "Open the link";
  return "Open the lead";
}
