import { called } from "../../../core/lead/called.ts";
import { clockTime, dayTime } from "../../../core/time/words.ts";
import type { Put } from "../../live/address.ts";
import { deskNow, useNow } from "../../live/clock.ts";
import { useAlsoHere } from "../../live/here.ts";
import { useAct, useMe, usePeople, useSheet } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Diamond } from "../../ui/Diamond.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Tabs } from "../../ui/Tabs.tsx";
import type { Me, Person, Sheet as SheetData } from "../../wire/schemas.ts";
import { Acts } from "./Acts.tsx";
import { AnswerNote } from "./AnswerNote.tsx";
import type { OpenDialog } from "./asked.ts";
import { CadenceLines } from "./CadenceLine.tsx";
import { Composer } from "./Composer.tsx";
import { EstimatesTab } from "./EstimatesTab.tsx";
import { Facts } from "./Facts.tsx";
import { forbiddenWords } from "./known.ts";
import { ErasingLine } from "./PersonData.tsx";
import { Pinned, Stops } from "./Pinned.tsx";
import { QuestionsTab } from "./QuestionsTab.tsx";
import { Same } from "./Same.tsx";
import styles from "./Sheet.module.css";
import { Looks, Thread, useWholeThread } from "./Thread.tsx";
import { HOW, lastSaid, nowLine, wantsBeside } from "./words.ts";

interface Props {
  readonly leadId: string | null;
  readonly zone: string;
  /** The tab that is asked for; null for what happened. */
  readonly tab: string | null;
  readonly onTab: Put;
  /** Open the dialog for something. */
  readonly onAsk: (asked: OpenDialog) => void;
  readonly channel: "text" | "email" | null;
  readonly onChannel: (channel: "text" | "email" | null) => void;
  readonly onBack: () => void;
}

/** Everything about one lead, and what can be done with it now. */
export function Sheet({ leadId, zone, tab: askedTab, onTab, onAsk, channel, onChannel, onBack }: Props) {
  const { data: sheet, error, isLoading } = useSheet(leadId);
  const { data: me } = useMe();
  const [whole, setWhole] = useWholeThread();
  const tab =
    askedTab === "facts" || askedTab === "questions" || askedTab === "estimates" ? askedTab : "thread";
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
          <div className={styles.tabs}>
            <Tabs
              label="Lead"
              chosen={tab}
              onChoose={(key) => onTab(key === "thread" ? null : key, { replace: true })}
              tabs={[
                { key: "thread", name: "What happened" },
                { key: "questions", name: "Questions" },
                { key: "estimates", name: "Estimates" },
                { key: "facts", name: "Facts", note: <Missing sheet={sheet} /> },
              ]}
            />
            {tab === "thread" && <Looks whole={whole} onWhole={setWhole} />}
          </div>
          {tab === "thread" ? (
            <Thread key={sheet.lead.id} sheet={sheet} zone={zone} whole={whole} />
          ) : tab === "questions" ? (
            <QuestionsTab key={sheet.lead.id} lead={sheet.lead} />
          ) : tab === "estimates" ? (
            <EstimatesTab key={sheet.lead.id} lead={sheet.lead} zone={zone} />
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
  const { data: people = [] } = usePeople();
  const { lead } = sheet;
  const rung = lead.bell.state === "rung" && !lead.closed;
  const waits = lead.bell.state === "waiting" || rung || !!lead.replyWaiting;
  const tone = lead.replyWaiting ? "plum" : rung ? "ember" : waits ? "brass" : "tarn";
  const there = lead.facts.zone && clockTime(now, lead.facts.zone);
  return (
    <header className={styles.head}>
      <div className={styles.title}>
        <Diamond name={lead.name} filled={lead.ownerId !== null} tone={lead.closed ? "ink" : tone} />
        <div>
          <h1>{called(lead)}</h1>
          <p className={styles.sub}>
            {[lead.company, sheet.place, there && `${there} there`, sheet.stage].filter(Boolean).join(" · ")}
          </p>
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
      </div>
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
      <Said lead={lead} zone={zone} />
      <p className={`${styles.now} ${styles[tone]}`} data-testid="now-line">
        {nowLine(lead, people, sheet.thenTo, zone, now)}
      </p>
      <CadenceLines sheet={sheet} zone={zone} />
      <Same sheet={sheet} />
      <Became lead={lead} people={people} />
      <ErasingLine lead={lead} me={me} zone={zone} onAsk={onAsk} />
      {lead.closed && !lead.joinedTo && !lead.erased && !lead.erasing && (
        <div className={styles.acts}>
          <Button hint="It is worked again from here" onClick={() => onAsk("reopen")}>
            Open again
          </Button>
          {me.rights.includes("privacy") && (
            <Button look="bare" hint="Hand it out, or erase it" onClick={() => onAsk("person")}>
              What is kept …
            </Button>
          )}
        </div>
      )}
      {!lead.closed && <Acts sheet={sheet} me={me} waits={waits} onAsk={onAsk} onChannel={onChannel} />}
    </header>
  );
}

/** What it has become in the book, and what colleagues are asked about it. */
function Became({ lead, people }: { readonly lead: SheetData["lead"]; readonly people: readonly Person[] }) {
  const over = lead.handedOver;
  const name = (id: string) => people.find((p) => p.id === id)?.name ?? "somebody";
  return (
    <>
      {over && (
        <p className={styles.over}>
          Handed over:{" "}
          {[
            over.dealId && { href: `/board?deal=${over.dealId}`, said: "the deal" },
            over.contactId && { href: `/customers?contact=${over.contactId}`, said: "the contact" },
            over.companyId && { href: `/customers?company=${over.companyId}`, said: "the company" },
          ].map(
            (to) =>
              to && (
                <span key={to.href}>
                  {" "}
                  <a href={to.href}>{to.said}</a>
                </span>
              ),
          )}
        </p>
      )}
      {lead.asked.map((a) => (
        <p key={a.noteId} className={styles.careful}>
          {name(a.by)} asks {a.to.map(name).join(", ")}: {a.text}{" "}
          <AnswerNote leadId={lead.id} noteId={a.noteId} />
        </p>
      ))}
    </>
  );
}

/** The newest thing they said, where it is seen before anything is done; what they want, beside it. */
function Said({ lead, zone }: { readonly lead: SheetData["lead"]; readonly zone: string }) {
  const words = lastSaid(lead);
  return (
    <p className={styles.wants}>
      {words && lead.said && (
        <>
          {lead.said.text ? (
            <q className={styles.said}>{words}</q>
          ) : (
            <span className={styles.said}>They {words}</span>
          )}{" "}
          <small>
            {HOW[lead.said.how]}, {dayTime(Date.parse(lead.said.at), zone, deskNow())}
          </small>{" "}
        </>
      )}
      <span className={styles.about}>{wantsBeside(lead)}</span>
    </p>
  );
}

/** How much is known; what would raise it most is said where one points. */
function Missing({ sheet }: { readonly sheet: SheetData }) {
  const { percent, missing } = sheet.completeness;
  return (
    <small className={styles.missing} title={missing[0] && `Ask for ${missing[0].name.toLowerCase()}`}>
      {percent} %
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
