import { duration } from "../../../../core/time/words.ts";
import { deskNow } from "../../../live/clock.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { useWays } from "../../../live/ways-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Copy } from "../../../ui/Copy.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import type { Way, Ways } from "../../../wire/access-schemas.ts";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { GatewayForm } from "./GatewayForm.tsx";
import { MailForm } from "./MailForm.tsx";

/** Where mail, texts and team chat leave by, and whether they do. */
export function WaysView() {
  return (
    <SetupFrame place="Ways out">
      <WaysOut />
    </SetupFrame>
  );
}

const ABOUT = {
  email: {
    name: "Mail",
    about: "First replies, letters by hand, invitations, and alerts to your people. Any SMTP server will do.",
  },
  text: {
    name: "Texts and calls",
    about: "A gateway that takes texts, and places calls from the desk. The README says what it is sent.",
  },
  chat: { name: "Team chat", about: "Where your team hears of offers and bells." },
} as const;

const ORDER = ["email", "text", "chat"] as const;

function WaysOut() {
  const { data, error } = useWays();
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!data) return <p className={styles.quiet}>Looking …</p>;
  return (
    <>
      <h1>Ways out</h1>
      <p className={styles.intro}>
        What goes by a way that is not set up waits, and nothing is lost. Passwords are kept sealed and shown
        to nobody, you included.
      </p>
      {data.rehearsal ? (
        <Empty title="In rehearsal the stand-ins take everything">
          <p>
            A real desk sets its mail server, its gateway and its team chat up here. What would go out is
            under <a href="/rehearsal">Rehearsal</a>.
          </p>
        </Empty>
      ) : (
        ORDER.flatMap((kind) => data.items.filter(({ way }) => way === kind)).map((way) => (
          <WayPart key={way.way} way={way} reports={data.reports} />
        ))
      )}
    </>
  );
}

/** How a way stands, in words. */
function standing({ from, down, waiting }: Way): { tone: "good" | "warn" | "wrong"; said: string } {
  const wait = waiting === 0 ? "" : waiting === 1 ? " One message waits." : ` ${waiting} messages wait.`;
  if (from === null) return { tone: "warn", said: `Not set up.${wait}` };
  if (down)
    return {
      tone: "wrong",
      said: `Does not work, for ${duration(deskNow() - Date.parse(down.since))}: ${down.error}${wait}`,
    };
  return { tone: "good", said: `Set up.${wait}` };
}

function WayPart({ way, reports }: { readonly way: Way; readonly reports: Ways["reports"] }) {
  const test = useChange();
  const { name, about } = ABOUT[way.way];
  const { tone, said } = standing(way);
  return (
    <section aria-label={name}>
      <h2>{name}</h2>
      <p className={styles.intro}>{about}</p>
      <p className={styles[tone]}>{said}</p>
      {way.from === "environment" ? (
        <p className={styles.quiet}>
          {way.shown}, given by {way.setting} when Kite Bell was started. It is changed there.
        </p>
      ) : way.way === "email" ? (
        <MailForm key={JSON.stringify(way.server)} way={way} />
      ) : (
        <GatewayForm key={way.shown} way={way} />
      )}
      {way.from !== null && (
        <p>
          <Button
            disabled={test.isPending}
            onClick={() =>
              test.mutate({
                call: "POST /setup/ways/test",
                body: { way: way.way },
                said: (answer) => `${answer.ok ? "It works." : "It does not work."} ${answer.said}`,
              })
            }
          >
            {test.isPending ? "Sending …" : "Send me a test"}
          </Button>
        </p>
      )}
      {way.way === "text" && way.from !== null && <Reports reports={reports} />}
    </section>
  );
}

/** What the gateway must be told, so that calls and texts come to something here. */
function Reports({ reports: { calls, messages, secret } }: { readonly reports: Ways["reports"] }) {
  return (
    <details>
      <summary>What the gateway reports, and where</summary>
      <p className={styles.intro}>
        It says of each text whether it has arrived, and how each call goes on, signed with this secret as
        Standard Webhooks are. Until it does, texts stay “sent” and calls from the desk have no end.
      </p>
      <dl className={styles.pairs}>
        <dt>Texts</dt>
        <dd>
          <Copy text={messages} label="where texts are reported" />
        </dd>
        <dt>Calls</dt>
        <dd>
          <Copy text={calls} label="where calls are reported" />
        </dd>
        <dt>Secret</dt>
        <dd>
          <Copy text={secret} label="the secret" />
        </dd>
      </dl>
    </details>
  );
}
