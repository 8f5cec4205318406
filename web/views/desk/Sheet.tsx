import { called } from "../../../core/lead/called.ts";
import { clockTime } from "../../../core/time/words.ts";
import { useInAddress } from "../../live/address.ts";
import { usePlaceCall } from "../../live/call.ts";
import { useNow } from "../../live/clock.ts";
import { useAlsoHere } from "../../live/here.ts";
import { useAct, useMe, usePeople, useSheet } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Diamond } from "../../ui/Diamond.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Tabs } from "../../ui/Tabs.tsx";
import type { Me, Sheet as SheetData } from "../../wire/schemas.ts";
import type { OpenDialog } from "./asked.ts";
import { Composer } from "./Composer.tsx";
import { Facts } from "./Facts.tsx";
import { forbiddenWords } from "./known.ts";
import { Pinned, Stops } from "./Pinned.tsx";
import { Same } from "./Same.tsx";
import styles from "./Sheet.module.css";
import { Thread } from "./Thread.tsx";
import { nowLine } from "./words.ts";

interface Props {
  readonly leadId: string | null;
  readonly zone: string;
  /** Open the dialog for something. */
  readonly onAsk: (asked: OpenDialog) => void;
  readonly channel: "text" | "email" | null;
  readonly onChannel: (channel: "text" | "email" | null) => void;
  readonly onBack: () => void;
}

/** Everything about one lead, and what can be done with it now. */
export function Sheet({ leadId, zone, onAsk, channel, onChannel, onBack }: Props) {
  const { data: sheet, error, isLoading } = useSheet(leadId);
  const { data: me } = useMe();
  const [asked, setAsked] = useInAddress("tab");
  const tab = asked === "facts" ? "facts" : "thread";
  if (!leadId)
    return (
      <section className={styles.sheet} aria-label="Lead">
        <Empty title="No lead chosen">
          Choose one from the queue or the wire. <kbd>↑</kbd> <kbd>↓</kbd> move through the queue.
        </Empty>
      </section>
    );
  return (
    <section className={styles.sheet} data-open aria-label="Lead">
      <Button look="bare" className={styles.back ?? ""} onClick={onBack}>
        ‹ Queue
      </Button>
      {isLoading && <p className={styles.loading}>Looking it up …</p>}
      {error && (
        <Empty title="This lead can't be shown">
          <p>{error.message}</p>
        </Empty>
      )}
      {sheet && me && (
        <>
          <Head sheet={sheet} zone={zone} me={me} onAsk={onAsk} onChannel={onChannel} />
          <Tabs
            label="Lead"
            chosen={tab}
            onChoose={(key) => setAsked(key === "facts" ? key : null, { replace: true })}
            tabs={[
              { key: "thread", name: "What happened" },
              { key: "facts", name: "Facts", note: <Missing sheet={sheet} /> },
            ]}
          />
          {tab === "thread" ? (
            <Thread key={sheet.lead.id} sheet={sheet} zone={zone} />
          ) : (
            <Facts sheet={sheet} zone={zone} />
          )}
          {!sheet.lead.closed && (
            <Composer
              key={`compose-${sheet.lead.id}`}
              sheet={sheet}
              me={me}
              channel={channel}
              onChannel={onChannel}
            />
          )}
        </>
      )}
    </section>
  );
}

interface HeadProps {
  readonly sheet: SheetData;
  readonly zone: string;
  readonly me: Me;
  readonly onAsk: (asked: OpenDialog) => void;
  readonly onChannel: (channel: "text" | "email") => void;
}

function Head({ sheet, zone, me, onAsk, onChannel }: HeadProps) {
  const now = useNow();
  const act = useAct();
  const placeCall = usePlaceCall();
  const { data: people = [] } = usePeople();
  const { lead } = sheet;
  const rung = lead.bell.state === "rung" && !lead.closed;
  const waits = lead.bell.state === "waiting" || rung || !!lead.replyWaiting;
  const tone = lead.replyWaiting ? "plum" : rung ? "ember" : waits ? "brass" : "tarn";
  const offered = lead.handOff && lead.handOff.state !== "taken";
  const takeIt = () =>
    act.mutate({
      leadId: lead.id,
      act: "take",
      body: { personId: me.id },
      said: `You have ${called(lead)}.`,
    });
  const there = lead.facts.zone && clockTime(now, lead.facts.zone);
  return (
    <header className={styles.head}>
      <div className={styles.title}>
        <Diamond name={lead.name} filled={lead.ownerId !== null} tone={lead.closed ? "ink" : tone} />
        <div>
          <h1>{called(lead)}</h1>
          <p className={styles.sub}>
            {[lead.company, sheet.place, there && `${there} there`, lead.stage].filter(Boolean).join(" · ")}
          </p>
        </div>
      </div>
      <ul className={styles.ways} aria-label="Ways to reach them">
        {lead.phones.map((phone, i) => (
          <li key={phone}>
            <a href={`tel:${phone}`}>{sheet.phonesReadable[i]}</a>
            {lead.facts.kinds[phone] && <small> {lead.facts.kinds[phone]}</small>}
            <Shared lead={lead} value={phone} />
          </li>
        ))}
        {lead.emails.map((email) => (
          <li key={email}>
            <button type="button" onClick={() => onChannel("email")}>
              {email}
            </button>
          </li>
        ))}
      </ul>
      <CouldNotBeRead lead={lead} />
      <Pinned lead={lead} />
      {lead.stops.length > 0 && <Stops lead={lead} />}
      {(lead.facts.preferred || lead.facts.forbidden.length > 0) && (
        <p className={styles.careful}>
          {lead.facts.preferred && `Prefers ${lead.facts.preferred}. `}
          {forbiddenWords(lead)}
        </p>
      )}
      <AlsoHere leadId={lead.id} />
      <p className={styles.wants}>{lead.wants}</p>
      <p className={`${styles.now} ${styles[tone]}`} data-testid="now-line">
        {nowLine(lead, people, sheet.thenTo, zone, now)}
      </p>
      <Same sheet={sheet} />
      {!lead.closed && (
        <div className={styles.acts}>
          <Button
            look={waits ? "strong" : "plain"}
            shortcut="C"
            disabled={lead.phones.length === 0}
            hint={lead.phones.length ? "Your phone rings, then theirs" : "No phone number is known"}
            onClick={() => placeCall.mutate(lead.id)}
          >
            Call
          </Button>
          <Button
            shortcut="O"
            hint="A call made elsewhere, and what came of it"
            onClick={() => onAsk("outcome")}
          >
            Log call
          </Button>
          {lead.ownerId === null && (
            <Button shortcut="K" hint="Take this lead yourself" onClick={takeIt}>
              Take
            </Button>
          )}
          {!offered && lead.ownerId === null && me.rights.includes("leads.move") && (
            <Button
              hint="The rules say who gets it; when all have passed, all are asked again"
              onClick={() =>
                act.mutate({
                  leadId: lead.id,
                  act: "route",
                  said: (after) => (after.handOff ? "It is offered again." : "Nobody can have it just now."),
                  undoable: false,
                })
              }
            >
              {lead.parked ? "Wake it" : "Ask the rules"}
            </Button>
          )}
          {(offered || lead.ownerId !== null) && (
            <Button shortcut="P" hint="Pass it on to the next by the rules" onClick={() => onAsk("pass")}>
              Pass
            </Button>
          )}
          {me.rights.includes("leads.move") && (
            <Button shortcut="G" hint="Give it to a person or a group" onClick={() => onAsk("give")}>
              Give to…
            </Button>
          )}
          <Button shortcut="D" hint="Put the next step off" onClick={() => onAsk("defer")}>
            Defer
          </Button>
          {sheet.bells.some((b) => b.rung) && me.rights.includes("leads.move") && (
            <Button
              shortcut="I"
              hint="Nothing need be done about what rings, and why"
              onClick={() => onAsk("excuse")}
            >
              Silence
            </Button>
          )}
          <Button shortcut="B" hint="A promise, or a time they asked for" onClick={() => onAsk("promise")}>
            Promise
          </Button>
          {!lead.parked && (
            <Button
              shortcut="V"
              hint="Set it aside until they do something, or until the next look"
              onClick={() => onAsk("park")}
            >
              Park
            </Button>
          )}
          <Button shortcut="M" hint="Write a note for colleagues" onClick={() => onAsk("note")}>
            Note
          </Button>
          <Button shortcut="X" hint="Close the lead with a reason" onClick={() => onAsk("close")}>
            Close
          </Button>
        </div>
      )}
    </header>
  );
}

/** How much is known, and the one fact that would raise it most. */
function Missing({ sheet }: { readonly sheet: SheetData }) {
  const { percent, missing } = sheet.completeness;
  const next = missing[0];
  return (
    <small className={styles.missing}>
      {percent} %{next && `, ask for ${next.name.toLowerCase()}`}
    </small>
  );
}

/** Who else has this lead open just now. */
function AlsoHere({ leadId }: { readonly leadId: string }) {
  const others = useAlsoHere(leadId);
  if (others.length === 0) return null;
  return (
    <p className={styles.careful} role="status">
      ◈ {others.map((o) => o.name).join(" and ")} {others.length === 1 ? "has" : "have"} this lead open too.
    </p>
  );
}

/** What they wrote as a number or an address and nobody can be reached by: it is for a person to mend. */
function CouldNotBeRead({ lead }: { readonly lead: SheetData["lead"] }) {
  const { unread } = lead.facts;
  if (unread.length === 0) return null;
  return <p className={styles.careful}>Could not be read: {unread.join(", ")}. Mend it with Fill in.</p>;
}

/** A number several people share does not tell who calls: say so here, or take it back. */
function Shared({ lead, value }: { readonly lead: SheetData["lead"]; readonly value: string }) {
  const act = useAct();
  const shared = lead.shared.includes(value);
  const set = () =>
    act.mutate({
      leadId: lead.id,
      act: "shared",
      body: { value, shared: !shared },
      said: shared
        ? "The number is theirs alone again."
        : "The number alone no longer tells that it is them.",
      undoable: false,
    });
  return (
    <button type="button" className={styles.shared} data-on={shared} aria-pressed={shared} onClick={set}>
      {shared ? "shared" : "shared?"}
    </button>
  );
}
