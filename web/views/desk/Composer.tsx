import { touched } from "../../live/touch.ts";
import { Button } from "../../ui/Button.tsx";
import type { Me, Sheet } from "../../wire/schemas.ts";
import styles from "./Composer.module.css";
import { Waiting } from "./Waiting.tsx";
import { Writing } from "./Writing.tsx";

interface Props {
  readonly sheet: Sheet;
  readonly me: Me;
  readonly channel: "text" | "email" | null;
  readonly onChannel: (channel: "text" | "email" | null) => void;
}

/** Write to the lead by text or email. What is typed is kept until it is sent. */
export function Composer({ sheet, me, channel, onChannel }: Props) {
  const { lead, lastWay } = sheet;
  const ways = { text: lead.phones.length > 0, email: lead.emails.length > 0 };
  return (
    <div className={styles.composer}>
      <Waiting sheet={sheet} />
      {channel === null ? (
        <div className={styles.choose}>
          <Button
            shortcut="T"
            disabled={!ways.text}
            hint={ways.text ? "Write a text" : "No phone number is known"}
            onClick={() => onChannel("text")}
          >
            Text
          </Button>
          <Button
            shortcut="E"
            disabled={!ways.email}
            hint={ways.email ? "Write an email" : "No mail address is known"}
            onClick={() => onChannel("email")}
          >
            Email
          </Button>
          <span className={styles.counts}>
            {lastWay ? `They last wrote by ${lastWay}${touched() ? ". " : "; W answers that way. "}` : ""}A
            message you write counts as a try.
          </span>
        </div>
      ) : (
        <Writing key={channel} sheet={sheet} me={me} channel={channel} onDone={() => onChannel(null)} />
      )}
    </div>
  );
}
