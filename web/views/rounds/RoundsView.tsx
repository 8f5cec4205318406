import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { called } from "../../../core/lead/called.ts";
import { bothTimes, clockTime, dayTime } from "../../../core/time/words.ts";
import { App } from "../../frame/App.tsx";
import { call, Refused } from "../../live/api.ts";
import { useRounds } from "../../live/cadence-queries.ts";
import { useOpenCall, usePlaceCall } from "../../live/call.ts";
import { deskNow, useNow } from "../../live/clock.ts";
import { useAlsoHere } from "../../live/here.ts";
import { useKeys } from "../../live/keys.ts";
import { useAct, useMe, useQueue, useSheet } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Diamond } from "../../ui/Diamond.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Field } from "../../ui/Field.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import type { RoundItem, Rounds } from "../../wire/cadence-schemas.ts";
import type { Me, Sheet } from "../../wire/schemas.ts";
import { AskBeside } from "../desk/AskBeside.tsx";
import { CadenceDialog, CadenceLines } from "../desk/CadenceLine.tsx";
import { Composer } from "../desk/Composer.tsx";
import dialogs from "../desk/dialogs.module.css";
import { DeferDialog } from "../desk/dialogs.tsx";
import { OutcomeDialog } from "../desk/OutcomeDialog.tsx";
import { HOW, lastSaid, wantsBeside } from "../desk/words.ts";
import styles from "./Rounds.module.css";

/** The guided run through the day’s work: one lead on the page and nothing else, to zero. */
export function RoundsView() {
  return (
    <App view="Rounds">
      <Run />
    </App>
  );
}

const BANDS = { answer: "Answer now", rung: "Rung", try: "Try again", due: "Due today" } as const;

/** The first that somebody can have: nobody else has it on their screen. */
const nextOf = (rounds: Rounds, but: string | null): RoundItem | undefined =>
  rounds.items.find((i) => i.with === null && i.leadId !== but);

function Run() {
  const { data: rounds, error } = useRounds();
  const { data: me } = useMe();
  const client = useQueryClient();
  const [current, setCurrent] = useState<string | null>(null);
  const [begun, setBegun] = useState(false);
  const say = useSay();
  /** Those that were not free when they were tried: the list shows it only with its next answer. */
  const taken = useRef(new Set<string>());
  const goTo = useCallback(
    async (id: string) => {
      try {
        const sheet = await call("POST /rounds/[id]/begin", { id, body: {} });
        client.setQueryData(["sheet", id], sheet);
        taken.current.delete(id);
        setCurrent(id);
        return true;
      } catch (problem) {
        if (!(problem instanceof Refused))
          say.wrong(problem instanceof Error ? problem.message : String(problem));
        taken.current.add(id);
        return false;
      }
    },
    [client, say],
  );
  /** On to the next that is free, of the list as it is now: its first, or the one that comes after this. */
  const advance = useCallback(
    async (done: string | null, onward = false) => {
      const fresh = await client.fetchQuery({
        queryKey: ["rounds"],
        queryFn: () => call("GET /rounds"),
        staleTime: 0,
      });
      const at = onward ? fresh.items.findIndex((i) => i.leadId === done) + 1 : 0;
      const free = [...fresh.items.slice(at), ...fresh.items.slice(0, at)].filter(
        (i) => i.with === null && (i.leadId !== done || fresh.items.length === 1),
      );
      for (const item of free) if (await goTo(item.leadId)) return;
      setCurrent(null);
    },
    [client, goTo],
  );
  useEffect(() => {
    if (begun || !rounds) return;
    setBegun(true);
    void advance(null);
  }, [begun, rounds, advance]);
  // Where everything was done and something new comes, it is begun.
  const waiting = rounds ? nextOf(rounds, null)?.leadId : undefined;
  useEffect(() => {
    if (begun && !current && waiting && !taken.current.has(waiting)) void goTo(waiting);
  }, [begun, current, waiting, goTo]);
  // The next one is looked up beforehand: it is there when its turn comes.
  const after = rounds ? nextOf(rounds, current)?.leadId : undefined;
  useEffect(() => {
    if (after)
      void client.prefetchQuery({
        queryKey: ["sheet", after],
        queryFn: () => call("GET /leads/[id]/sheet", { id: after }),
      });
  }, [after, client]);
  useEffect(() => {
    if (!current) return;
    // Whoever goes away lets it go.
    const leave = () =>
      navigator.sendBeacon(`/api/v1/rounds/${current}/leave`, new Blob(["{}"], { type: "application/json" }));
    window.addEventListener("pagehide", leave);
    // A lead that lies open for long is still theirs.
    const stay = setInterval(
      () => void call("POST /rounds/[id]/begin", { id: current, body: {} }).catch(() => {}),
      240_000,
    );
    return () => {
      window.removeEventListener("pagehide", leave);
      clearInterval(stay);
    };
  }, [current]);
  if (error && !rounds)
    return (
      <Empty title="The rounds can't be shown">
        <p>{error.message}</p>
      </Empty>
    );
  if (!rounds || !me || !begun) return <p className={styles.loading}>Looking at the day …</p>;
  return (
    <main className={styles.rounds}>
      <Progress rounds={rounds} current={current} />
      {current ? (
        <Lead
          key={current}
          id={current}
          me={me}
          rounds={rounds}
          onDone={() => void advance(current)}
          onNext={() => void advance(current, true)}
          onGo={(id) => void goTo(id)}
        />
      ) : (
        <End rounds={rounds} />
      )}
    </main>
  );
}

/** How far it is to zero: a knot for each lead of today, filled as they are done. */
function Progress({ rounds, current }: { readonly rounds: Rounds; readonly current: string | null }) {
  const { done, left, takesMinutes, items } = rounds;
  const all = done + left;
  const knots = Math.min(all, 60);
  return (
    <div className={styles.progress}>
      <p role="status" data-testid="progress">
        <b>
          {done} of {all}
        </b>
        {left > 0 &&
          `, about ${takesMinutes < 60 ? `${Math.max(1, takesMinutes)} min` : `${Math.floor(takesMinutes / 60)} h ${takesMinutes % 60} min`} at your pace`}
      </p>
      <div className={styles.tail} aria-hidden="true">
        {Array.from({ length: knots }, (_, knot) => ({
          knot,
          done: Math.round((done / Math.max(1, all)) * knots),
        })).map(({ knot, done: filled }) => (
          <i key={knot} data-done={knot < filled || undefined} data-here={knot === filled || undefined} />
        ))}
      </div>
      <ul className={styles.bands} aria-label="What is left">
        {(Object.keys(BANDS) as (keyof typeof BANDS)[]).map((band) => {
          const n = items.filter((i) => i.band === band && i.leadId !== current).length;
          return n > 0 ? (
            <li key={band} data-band={band}>
              {BANDS[band]} <b>{n}</b>
            </li>
          ) : null;
        })}
      </ul>
    </div>
  );
}

interface LeadProps {
  readonly id: string;
  readonly me: Me;
  readonly rounds: Rounds;
  readonly onDone: () => void;
  /** The one after it, with nothing done. */
  readonly onNext: () => void;
  readonly onGo: (id: string) => void;
}

type Asked = "outcome" | "defer" | "skip" | "cadence" | null;

function Lead({ id, me, rounds, onDone, onNext, onGo }: LeadProps) {
  const { data: sheet } = useSheet(id);
  const { data: queue } = useQueue();
  const zone = queue?.zone ?? sheet?.theirZone ?? "UTC";
  const act = useAct();
  const say = useSay();
  const place = usePlaceCall();
  const { data: open } = useOpenCall();
  const [asked, ask] = useState<Asked>(null);
  const [note, setNote] = useState("");
  const [channel, setChannel] = useState<"text" | "email" | null>(null);
  const [asking, setAsking] = useState(false);
  const questions = useRef<HTMLDetailsElement>(null);
  /** Whose questions were asked for before they were there: the first is gone to as they come. */
  const early = useRef<string | null>(null);
  const noteField = useRef<HTMLInputElement>(null);
  const item = rounds.items.find((i) => i.leadId === id);
  const front = useStepped(rounds, id);
  const lead = sheet?.lead;
  const goOn = () => {
    ask(null);
    setChannel(null);
    onDone();
  };
  useKeys({
    c: () => lead && place.mutate(lead.id),
    o: () => lead && ask("outcome"),
    d: () => lead && ask("defer"),
    s: () => lead && ask("skip"),
    a: () => lead && ask("cadence"),
    m: () => noteField.current?.focus(),
    q: () => {
      flushSync(() => setAsking(true));
      early.current = questions.current ? null : id;
      focusFirst(questions.current);
    },
    k: () =>
      lead &&
      act.mutate({
        leadId: lead.id,
        act: "take",
        body: { personId: me.id },
        said: `You have ${called(lead)}.`,
      }),
    t: () => lead?.phones.length && setChannel("text"),
    e: () => lead?.emails.length && setChannel("email"),
    w: () => {
      const way = sheet?.lastWay;
      if (way && (way === "text" ? lead?.phones.length : lead?.emails.length)) setChannel(way);
    },
    j: () => front && onGo(front.leadId),
    ".": () => onNext(),
    u: () => void (say.undoLast() || say.done("There is nothing to undo here.")),
    escape: () => (channel ? setChannel(null) : location.assign("/")),
  });
  if (!sheet || !lead) return <p className={styles.loading}>Looking it up …</p>;
  const keepNote = () => {
    if (!note.trim()) return;
    act.mutate({ leadId: id, act: "notes", body: { text: note }, said: "Noted.", undoable: false });
    setNote("");
  };
  const tasks = lead.tasks.filter((t) => t.to.includes(me.id));
  return (
    <>
      {front && (
        <p className={styles.front} role="alert">
          ▲ {front.name} steps in front: {front.reason}.{" "}
          <Button shortcut="J" onClick={() => onGo(front.leadId)}>
            Go to them
          </Button>
        </p>
      )}
      <article className={styles.lead} aria-label={called(lead)}>
        <Who sheet={sheet} item={item} />
        <Said sheet={sheet} zone={zone} />
        <Agreed sheet={sheet} zone={zone} />
        <CadenceLines sheet={sheet} zone={zone} />
        <AskBeside
          ref={(node) => {
            questions.current = node;
            if (!node || early.current !== id) return;
            early.current = null;
            focusFirst(node);
          }}
          leadId={id}
          open={asking}
          onOpen={setAsking}
        />
        {channel && (
          <Composer key={`${id}-${channel}`} sheet={sheet} me={me} channel={channel} onChannel={setChannel} />
        )}
        <form
          className={styles.note}
          onSubmit={(e) => {
            e.preventDefault();
            keepNote();
          }}
        >
          <Field
            ref={noteField}
            label="A note"
            quiet
            placeholder="A note (M), Enter keeps it"
            value={note}
            onChange={(e) => setNote(e.target.value)}
          />
        </form>
      </article>
      <div className={styles.acts}>
        <Button
          look="strong"
          shortcut="C"
          hint="Your phone rings, then theirs"
          disabled={lead.phones.length === 0}
          onClick={() => place.mutate(id)}
        >
          Call
        </Button>
        <Button shortcut="O" hint="What came of it" onClick={() => ask("outcome")}>
          Outcome
        </Button>
        {lead.replyWaiting && sheet.lastWay && (
          <Button shortcut="W" hint="Write as they did" onClick={() => setChannel(sheet.lastWay)}>
            Answer
          </Button>
        )}
        {tasks.map((task) => (
          <Button
            key={task.id}
            onClick={() =>
              act.mutate(
                { leadId: id, act: "tasks", body: { taskId: task.id }, said: `Done: ${task.note}.` },
                { onSuccess: onDone },
              )
            }
          >
            Done: {task.note}
          </Button>
        ))}
        <Button shortcut="D" hint="At another time" onClick={() => ask("defer")}>
          Not today
        </Button>
        <Button shortcut="S" hint="Comes again at the end, with a reason" onClick={() => ask("skip")}>
          Skip
        </Button>
        <Button look="bare" shortcut="." hint="The lead after this one" onClick={onNext}>
          Next
        </Button>
        <a className={styles.whole} href={`/?lead=${id}`}>
          Whole story
        </a>
      </div>
      {asked === "outcome" && (
        <OutcomeDialog
          lead={lead}
          me={me}
          zone={zone}
          {...(open?.state === "ended" && open.leadId === id && { call: open })}
          onClose={() => ask(null)}
          onDone={goOn}
        />
      )}
      {asked === "defer" && (
        <DeferDialog lead={lead} me={me} zone={zone} onClose={() => ask(null)} onDone={goOn} />
      )}
      {asked === "cadence" && (
        <CadenceDialog lead={lead} me={me} zone={zone} onClose={() => ask(null)} onDone={goOn} />
      )}
      {asked === "skip" && <SkipDialog id={id} name={called(lead)} onClose={() => ask(null)} onDone={goOn} />}
    </>
  );
}

/** What has come in or rung since this lead was begun, and goes before it. */
function useStepped(rounds: Rounds, current: string): RoundItem | null {
  const known = useRef<Set<string> | null>(null);
  known.current ??= new Set(
    rounds.items.filter((i) => i.band === "answer" || i.band === "rung").map((i) => i.leadId),
  );
  const first = rounds.items.find(
    (i) => i.with === null && i.leadId !== current && (i.band === "answer" || i.band === "rung"),
  );
  const at = rounds.items.findIndex((i) => i.leadId === current);
  const isBefore =
    first !== undefined && (at < 0 || rounds.items.indexOf(first) < at || !known.current.has(first.leadId));
  return first && isBefore && !known.current.has(first.leadId) ? first : null;
}

function Who({ sheet, item }: { readonly sheet: Sheet; readonly item: RoundItem | undefined }) {
  const now = useNow();
  const { lead } = sheet;
  const others = useAlsoHere(lead.id);
  const there = lead.facts.zone && clockTime(now, lead.facts.zone);
  return (
    <header className={styles.who}>
      <Diamond
        name={lead.name}
        filled={lead.ownerId !== null}
        tone={item?.band === "rung" ? "ember" : item?.band === "answer" ? "plum" : "tarn"}
      />
      <div>
        <h1>{called(lead)}</h1>
        <p className={styles.quiet}>
          {[lead.company, sheet.place, there && `${there} there`, lead.stage].filter(Boolean).join(" · ")}
        </p>
      </div>
      <ul className={styles.ways} aria-label="Ways to reach them">
        {lead.phones.map((phone, i) => (
          <li key={phone}>
            <a href={`tel:${phone}`}>{sheet.phonesReadable[i]}</a>
          </li>
        ))}
        {lead.emails.map((email) => (
          <li key={email}>{email}</li>
        ))}
      </ul>
      {others.length > 0 && (
        <p className={styles.quiet} role="status">
          ◈ {others.map((o) => o.name).join(" and ")} {others.length === 1 ? "has" : "have"} this lead open
          too.
        </p>
      )}
      {item && (
        <p className={styles.why} data-band={item.band}>
          {BANDS[item.band]}: {item.reason}
        </p>
      )}
    </header>
  );
}

function Said({ sheet, zone }: { readonly sheet: Sheet; readonly zone: string }) {
  const { lead } = sheet;
  const words = lastSaid(lead);
  return (
    <p className={styles.said}>
      {words && lead.said ? (
        <>
          {lead.said.text ? <q>{words}</q> : <>They {words}</>}{" "}
          <small>
            {HOW[lead.said.how]}, {dayTime(Date.parse(lead.said.at), zone, deskNow())}
          </small>
        </>
      ) : (
        "They have said nothing yet."
      )}{" "}
      <span className={styles.quiet}>{wantsBeside(lead)}</span>
    </p>
  );
}

/** What was last agreed or tried, what to say, and what one should know. */
function Agreed({ sheet, zone }: { readonly sheet: Sheet; readonly zone: string }) {
  const { lead, thread, theirZone } = sheet;
  const now = deskNow();
  const both = (iso: string) => bothTimes(Date.parse(iso), theirZone, zone, now);
  const last = thread.findLast((e) => e.kind === "tried" || e.kind === "noted");
  const note =
    typeof last?.data.note === "string"
      ? last.data.note
      : typeof last?.data.text === "string"
        ? last.data.text
        : null;
  return (
    <dl className={styles.facts}>
      {lead.nextStep && (
        <>
          <dt>To do</dt>
          <dd>
            <b>{lead.nextStep.note}</b>, {both(lead.nextStep.dueAt)}
            {lead.nextStep.cadence && ` (${lead.nextStep.cadence})`}
          </dd>
        </>
      )}
      {lead.promise && (
        <>
          <dt>Promised</dt>
          <dd>
            {lead.promise.text}, {both(lead.promise.at)}
          </dd>
        </>
      )}
      {last && (
        <>
          <dt>Last</dt>
          <dd>
            {last.summary}
            {note && `: ${note}`} <small>{dayTime(Date.parse(last.at), zone, now)}</small>
          </dd>
        </>
      )}
      {lead.pinned && (
        <>
          <dt>To know</dt>
          <dd>{lead.pinned}</dd>
        </>
      )}
      <dt>Tries</dt>
      <dd>
        {lead.tries}
        {sheet.completeness.missing[0] && `; ask for ${sheet.completeness.missing[0].name.toLowerCase()}`}
      </dd>
    </dl>
  );
}

interface SkipProps {
  readonly id: string;
  readonly name: string;
  readonly onClose: () => void;
  readonly onDone: () => void;
}

const REASONS = ["Waits for somebody", "Bad moment for them", "I must look something up"];

function SkipDialog({ id, name, onClose, onDone }: SkipProps) {
  const say = useSay();
  const [reason, setReason] = useState("");
  const first = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    first.current?.focus();
  }, []);
  const skip = async (why: string) => {
    try {
      await call("POST /rounds/[id]/skip", { id, body: { reason: why } });
      say.done(`${name} comes again at the end.`);
      onDone();
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <Dialog
      title={`Skip ${name}: why?`}
      onClose={onClose}
      onKeyDown={(e) => {
        const at = Number(e.key) - 1;
        if ((e.target as HTMLElement).closest("input") || !REASONS[at]) return;
        e.preventDefault();
        void skip(REASONS[at]);
      }}
    >
      <ol className={dialogs.list}>
        {REASONS.map((why, i) => (
          <li key={why}>
            <button
              type="button"
              className={dialogs.option}
              ref={i === 0 ? first : undefined}
              onClick={() => void skip(why)}
            >
              <kbd>{i + 1}</kbd>
              <span>{why}</span>
            </button>
          </li>
        ))}
      </ol>
      <form
        className={dialogs.form}
        onSubmit={(e) => {
          e.preventDefault();
          if (reason.trim()) void skip(reason);
        }}
      >
        <Field label="Or another reason" value={reason} onChange={(e) => setReason(e.target.value)} />
      </form>
    </Dialog>
  );
}

/** Nothing is due: what was done today, and what waits tomorrow. */
function End({ rounds }: { readonly rounds: Rounds }) {
  const { day, items } = rounds;
  const elsewhere = items.filter((i) => i.with !== null);
  return (
    <section className={styles.end} aria-label="The end of the rounds">
      <h1>{elsewhere.length > 0 ? "Nothing left for you" : "Nothing is due"}</h1>
      {elsewhere.length > 0 && (
        <p>
          {elsewhere.length === 1 ? "One lead is" : `${elsewhere.length} leads are`} on the screen of{" "}
          {[...new Set(elsewhere.map((i) => i.with))].join(" and ")}.
        </p>
      )}
      <dl className={styles.sums}>
        <div>
          <dt>seen to today</dt>
          <dd>{day.leads}</dd>
        </div>
        <div>
          <dt>tries</dt>
          <dd>{day.tries}</dd>
        </div>
        <div>
          <dt>reached</dt>
          <dd>{day.reached}</dd>
        </div>
        <div>
          <dt>wait tomorrow</dt>
          <dd>{day.tomorrow}</dd>
        </div>
      </dl>
      <p className={styles.quiet}>What comes in or rings steps up here on its own.</p>
      <a href="/">To the Desk</a>
    </section>
  );
}

/** Go to the first thing that can be filled in. */
const focusFirst = (node: HTMLElement | null) =>
  node?.querySelector<HTMLElement>("select, input, textarea")?.focus();
