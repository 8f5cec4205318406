import { type ReactNode, useEffect, useRef, useState } from "react";
import { isTrail } from "../../../core/policy/field-names.ts";
import { dayTime } from "../../../core/time/words.ts";
import { deskNow } from "../../live/clock.ts";
import { useAct, useMe, useResend, useUndo } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Area } from "../../ui/Field.tsx";
import { TraceList } from "../../ui/TraceList.tsx";
import type { Sheet, ThreadItem, Trace } from "../../wire/schemas.ts";
import styles from "./Thread.module.css";
import { onceEach, talkOf } from "./talk.ts";

const WHOLE = "kb_thread";

/** Whether the thread shows everything or what was said alone; each browser keeps its way. */
export function useWholeThread(): [boolean, (whole: boolean) => void] {
  const [whole, setWhole] = useState(() => localStorage.getItem(WHOLE) === "whole");
  return [
    whole,
    (next) => {
      localStorage.setItem(WHOLE, next ? "whole" : "talk");
      setWhole(next);
    },
  ];
}

/** The thread's two looks. */
export function Looks({
  whole,
  onWhole,
}: {
  readonly whole: boolean;
  readonly onWhole: (whole: boolean) => void;
}) {
  return (
    <fieldset className={styles.looks}>
      <legend className={styles.legend}>Show</legend>
      {[false, true].map((is) => (
        <label key={String(is)}>
          <input type="radio" name="thread-look" checked={whole === is} onChange={() => onWhole(is)} />
          {is ? "everything" : "talk"}
        </label>
      ))}
    </fieldset>
  );
}

interface ThreadProps {
  readonly sheet: Sheet;
  readonly zone: string;
  /** Everything, not what was said alone. */
  readonly whole: boolean;
}

/** What happened to the lead, oldest first, each automatic act with its why. */
export function Thread({ sheet, zone, whole }: ThreadProps) {
  const end = useRef<HTMLDivElement>(null);
  const count = sheet.thread.length;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the other look is as long as it is, and its end is what counts
  useEffect(() => {
    if (count > 0) end.current?.scrollIntoView({ block: "end" });
  }, [count, whole]);
  // Writing makes the thread smaller: what was said last stays in sight.
  useEffect(() => {
    const box = end.current?.parentElement;
    if (!box) return;
    let height = box.clientHeight;
    const watch = new ResizeObserver(() => {
      box.scrollTop += height - box.clientHeight;
      height = box.clientHeight;
    });
    watch.observe(box);
    return () => watch.disconnect();
  }, []);
  const once = onceEach(sheet.thread);
  const stretches = whole ? once.map((item) => ({ item })) : talkOf(once);
  const leadId = sheet.lead.id;
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
    <div className={styles.thread} role="log" aria-label="What happened" tabIndex={0}>
      <ol>
        {stretches.map((stretch) =>
          "item" in stretch ? (
            <Item key={stretch.item.id} item={stretch.item} leadId={leadId} zone={zone} />
          ) : (
            <Between key={stretch.folded[0]!.id} items={stretch.folded} leadId={leadId} zone={zone} />
          ),
        )}
      </ol>
      <div ref={end} />
    </div>
  );
}

/** How the desk ran it between two things said: the last of it in a line, with its why; all of it when asked for. */
function Between({
  items,
  leadId,
  zone,
}: {
  readonly items: readonly ThreadItem[];
  readonly leadId: string;
  readonly zone: string;
}) {
  const [open, setOpen] = useState(false);
  const failed = items.find((i) => i.kind !== "alerted" && deliveryOf(i)?.wrong);
  // Alerts say what something else did: that is what the line tells.
  const main = failed ?? items.findLast((i) => i.kind !== "alerted") ?? items.at(-1)!;
  const others = items.length - 1;
  const undone = items.some((i) => i.undo);
  const fold = others > 0 && (
    <button type="button" className={styles.more} aria-expanded={open} onClick={() => setOpen(!open)}>
      {open ? "fold" : `${others} more`}
    </button>
  );
  if (open || undone)
    return (
      <>
        {items.map((item, at) => (
          <Item key={item.id} item={item} leadId={leadId} zone={zone} after={at === 0 && !undone && fold} />
        ))}
      </>
    );
  // Why it came about is asked of the last decision, whatever came of it.
  const why = main.why ?? items.findLast((i) => i.why)?.why;
  return <Item item={{ ...main, ...(why && { why }) }} leadId={leadId} zone={zone} after={fold} />;
}

const text = (value: unknown) => (typeof value === "string" ? value : null);

/** What was written or said, when the event carries words of a person or to one. */
function wordsOf(item: ThreadItem): string | null {
  if (item.kind === "message-out" || item.kind === "message-in") return text(item.data.body);
  if (item.kind === "tried") return text(item.data.note);
  if (item.kind === "noted") return text(item.data.text);
  if (item.kind !== "inquiry") return null;
  const facts = item.data.facts as { message: string | null; answers: Record<string, string> };
  const answers = Object.entries(facts.answers ?? {}).filter(([name]) => !isTrail(name));
  return (
    [facts.message, ...answers.map(([name, value]) => `${name.replace(/_/g, " ")}: ${value}`)]
      .filter(Boolean)
      .join("\n") || null
  );
}

const DRESS: Readonly<Record<string, string>> = {
  inquiry: "them",
  "message-in": "them",
  "called-in": "them",
  "called-out": "deed",
  "message-out": "us",
  noted: "note",
  pinned: "note",
  clicked: "them",
  visited: "them",
  woken: "them",
  promised: "note",
  parked: "deed",
  "held-back": "ring",
  undelivered: "ring",
  stopped: "ring",
  rang: "ring",
  tried: "deed",
};

function Item({
  item,
  leadId,
  zone,
  after,
}: {
  readonly item: ThreadItem;
  readonly leadId: string;
  readonly zone: string;
  /** What stands behind its line. */
  readonly after?: ReactNode;
}) {
  const [open, setOpen] = useState(false);
  const undo = useUndo();
  const resend = useResend(leadId);
  const dress = DRESS[item.kind] ?? "quiet";
  const delivery = deliveryOf(item);
  return (
    <li className={`${styles.item} ${styles[dress]}`} data-kind={item.kind}>
      <time dateTime={item.at}>{dayTime(Date.parse(item.at), zone, deskNow())}</time>
      <div className={styles.what}>
        <p className={styles.summary}>
          {item.summary}
          {delivery && (
            <span className={delivery.wrong ? styles.failed : styles.state}> {delivery.said}</span>
          )}
          {delivery?.deadId && (
            <Button look="bare" onClick={() => void resend(delivery.deadId ?? "")}>
              Try again
            </Button>
          )}
          {item.why && (
            <button type="button" className={styles.why} aria-expanded={open} onClick={() => setOpen(!open)}>
              why
            </button>
          )}
          {item.undo && (
            <Button
              look="bare"
              className={styles.undo ?? ""}
              onClick={() => void undo(leadId, item.actId)}
              hint={`Take back ${item.undo}`}
            >
              Undo
            </Button>
          )}
          {after}
        </p>
        <Words item={item} leadId={leadId} />
        {(item.kind === "called-in" || item.kind === "called-out") && <Recording item={item} />}
        {(item.kind === "message-in" || item.kind === "message-out") && <MailParts item={item} />}
        {item.kind === "inquiry" && <Original item={item} />}
        {open && item.why && <Why trace={item.why} />}
      </div>
    </li>
  );
}

/** What was written or said, as its kind shows it. */
function Words({ item, leadId }: { readonly item: ThreadItem; readonly leadId: string }) {
  if (item.kind === "noted" || item.kind === "question-answered")
    return <NoteWords item={item} leadId={leadId} />;
  const words = wordsOf(item);
  if (!words) return null;
  if (item.kind === "message-out" && (item.data.auto || item.data.template)) return <Folded words={words} />;
  return <p className={styles.words}>{words}</p>;
}

/** A note with its lists and links; whoever wrote it can mend it where it stands. */
function NoteWords({ item, leadId }: { readonly item: ThreadItem; readonly leadId: string }) {
  const act = useAct();
  const { data: me } = useMe();
  const [typed, setTyped] = useState<string | null>(null);
  const said = text(item.data.text) ?? "";
  const html = text(item.data.html) ?? "";
  const mine = item.kind === "noted" && me?.name === item.actor;
  if (typed !== null)
    return (
      <form
        onSubmit={(event) => {
          event.preventDefault();
          act.mutate({
            leadId,
            act: "notes/[note]",
            note: item.id,
            body: { text: typed },
            said: "The note is mended.",
            undoable: false,
          });
          setTyped(null);
        }}
      >
        <Area
          label="The note"
          quiet
          rows={3}
          autoFocus
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
        />
        <Button type="submit" disabled={!typed.trim()}>
          Keep
        </Button>
        <Button look="bare" onClick={() => setTyped(null)}>
          Cancel
        </Button>
      </form>
    );
  return (
    <div className={styles.noted}>
      {item.kind === "question-answered" && <p className={styles.asked}>{text(item.data.question)}</p>}
      {/* biome-ignore lint/security/noDangerouslySetInnerHtml: made by the server from CommonMark, without any HTML of the writer’s */}
      <div className={styles.words} dangerouslySetInnerHTML={{ __html: html }} />
      {item.data.mended === true && <small>mended</small>}
      {mine && (
        <Button look="bare" onClick={() => setTyped(said)}>
          Mend
        </Button>
      )}
    </div>
  );
}

interface File {
  readonly fileId: string;
  readonly name: string;
  readonly type: string;
  readonly size: number;
}

const fileUrl = ({ fileId, name }: File) => `/api/v1/files/${fileId}?name=${encodeURIComponent(name)}`;

/** A voicemail plays where it stands. */
function Recording({ item }: { readonly item: ThreadItem }) {
  const file = item.data.recording as File | null;
  if (!file) return null;
  return (
    // biome-ignore lint/a11y/useMediaCaption: nobody has written down what was said
    <audio
      className={styles.audio}
      controls
      preload="none"
      src={fileUrl(file)}
      aria-label={item.kind === "called-in" ? "The voicemail" : "The call"}
    />
  );
}

/** What else a mail holds: the history it quotes, its own dress, and files. */
function MailParts({ item }: { readonly item: ThreadItem }) {
  const quoted = text(item.data.quoted);
  const html = text(item.data.html);
  const files = (item.data.attachments ?? []) as readonly File[];
  return (
    <>
      {files.length > 0 && (
        <p className={styles.files}>
          {files.map((f) => (
            <a key={f.fileId} href={fileUrl(f)} target="_blank" rel="noreferrer">
              {f.name} <small>{Math.max(1, Math.round(f.size / 1024))} kB</small>
            </a>
          ))}
        </p>
      )}
      {quoted && (
        <details className={styles.folded}>
          <summary>what they quoted</summary>
          <p className={styles.words}>{quoted}</p>
        </details>
      )}
      {html && (
        <details className={styles.folded}>
          <summary>as they wrote it</summary>
          {/* Cleaned by the server, and shown where nothing can run or reach the desk. */}
          <iframe
            className={styles.mail}
            sandbox="allow-popups"
            srcDoc={html}
            title="The mail as it was written"
          />
        </details>
      )}
    </>
  );
}

/** What arrived, byte for byte. */
function Original({ item }: { readonly item: ThreadItem }) {
  const id = text(item.data.inquiryId);
  if (!id) return null;
  return (
    <a className={styles.original} href={`/api/v1/inquiries/${id}/original`}>
      original
    </a>
  );
}

/** A message nobody wrote by hand: its first line is enough until asked for. */
function Folded({ words }: { readonly words: string }) {
  return (
    <details className={styles.folded}>
      <summary>{words.split("\n")[0]} …</summary>
      <p className={styles.words}>{words}</p>
    </details>
  );
}

interface Delivery {
  readonly said: string;
  readonly wrong: boolean;
  /** The message that will not be tried again on its own. */
  readonly deadId?: string;
}

function deliveryOf(item: ThreadItem): Delivery | null {
  const { messages } = item;
  if (messages.length === 0) return null;
  const failed = messages.find((m) => m.error);
  if (failed)
    return {
      said: `${failed.state === "dead" ? "not delivered" : "trying again"} (${failed.channel}): ${failed.error}`,
      wrong: true,
      ...(failed.state === "dead" && { deadId: failed.id }),
    };
  if (messages.some((m) => m.state === "withdrawn"))
    return { said: "called back before it left", wrong: false };
  if (messages.some((m) => m.state === "queued")) return { said: "on its way", wrong: false };
  // Taken by the next server; a receipt says more.
  const arrived = messages.every((m) => m.state === "delivered");
  return { said: arrived ? "delivered" : "has left", wrong: false };
}

/** A decision as it was thought through. */
function Why({ trace }: { readonly trace: Trace }) {
  const node = useRef<HTMLDivElement>(null);
  // Asked for at the end of the thread, it would open below what can be seen.
  useEffect(() => {
    node.current?.scrollIntoView({ block: "nearest" });
  }, []);
  return (
    <div ref={node} className={styles.trace}>
      <TraceList trace={trace} />
    </div>
  );
}
