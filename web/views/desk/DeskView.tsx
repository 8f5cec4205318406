import { useEffect, useMemo, useState } from "react";
import { called } from "../../../core/lead/called.ts";
import { App } from "../../frame/App.tsx";
import { type Put, useInAddress } from "../../live/address.ts";
import { useOpenCall, usePlaceCall } from "../../live/call.ts";
import { useKeys } from "../../live/keys.ts";
import { useAct, useMe, usePeople, useQueue, useSheet } from "../../live/queries.ts";
import { markSeen } from "../../live/seen.ts";
import { Empty } from "../../ui/Empty.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import type { Queue as QueueData } from "../../wire/schemas.ts";
import { RehearsalDrawer } from "../rehearsal/RehearsalDrawer.tsx";
import type { OpenDialog } from "./asked.ts";
import { ExcuseDialog, ParkDialog, PromiseDialog } from "./bell-dialogs.tsx";
import { CadenceDialog } from "./CadenceLine.tsx";
import styles from "./DeskView.module.css";
import { CloseDialog, DeferDialog, GiveDialog, NoteDialog, PassDialog } from "./dialogs.tsx";
import { FactsDialog } from "./Facts.tsx";
import { OutcomeDialog } from "./OutcomeDialog.tsx";
import { Queue } from "./Queue.tsx";
import { Sheet } from "./Sheet.tsx";
import { Wire } from "./Wire.tsx";

const LEAD_DIALOGS = {
  outcome: OutcomeDialog,
  give: GiveDialog,
  pass: PassDialog,
  defer: DeferDialog,
  note: NoteDialog,
  close: CloseDialog,
  park: ParkDialog,
  excuse: ExcuseDialog,
  promise: PromiseDialog,
  cadence: CadenceDialog,
} as const;

/** The Desk: the wire, the queue, the sheet. */
export function DeskView() {
  const [chosen, setChosen] = useInAddress("lead");
  const [asked, setAsked] = useState<OpenDialog | null>(null);
  return (
    <App view="Desk" onOpenLead={setChosen}>
      <Desk chosen={chosen} onChoose={setChosen} asked={asked} onAsk={setAsked} />
    </App>
  );
}

const countOf = (queue: QueueData | undefined, band: "answer" | "rung"): number =>
  queue?.bands.find((b) => b.band === band)?.count ?? 0;

/** The tab says what waits and what has rung, also while one is elsewhere. */
function useTitle(queue: QueueData | undefined): void {
  const [waiting, rung] = [countOf(queue, "answer"), countOf(queue, "rung")];
  useEffect(() => {
    const said = [rung > 0 && `▲ ${rung} rung`, waiting > 0 && `${waiting} to answer`].filter(Boolean);
    document.title = [...said, "Desk · Kite Bell"].join(" · ");
  }, [waiting, rung]);
}

interface Props {
  readonly chosen: string | null;
  readonly onChoose: Put;
  readonly asked: OpenDialog | null;
  readonly onAsk: (asked: OpenDialog | null) => void;
}

function Desk({ chosen, onChoose, asked, onAsk }: Props) {
  const [laterOpen, setLaterOpen] = useState(false);
  const { data: queue, error } = useQueue(laterOpen);
  const { data: people = [] } = usePeople();
  const { data: me } = useMe();
  const { data: sheet } = useSheet(chosen);
  const [channel, setChannel] = useState<"text" | "email" | null>(null);
  const say = useSay();
  const act = useAct();
  const placeCall = usePlaceCall();
  const { data: open } = useOpenCall();
  const order = useMemo(() => queue?.bands.flatMap((b) => b.items.map((r) => r.id)) ?? [], [queue]);
  const choose = (id: string | null) => {
    setChannel(null);
    onChoose(id);
  };
  // The most pressing lead lies open when the desk is opened on a wide screen.
  useEffect(() => {
    if (!chosen && order[0] && matchMedia("(min-width: 761px)").matches)
      onChoose(order[0], { replace: true });
  }, [chosen, order, onChoose]);

  // What lies open has been seen, and so has what comes while it does.
  const saidAt = sheet?.lead.id === chosen ? sheet?.lead.said?.at : undefined;
  useEffect(() => {
    if (chosen && saidAt !== null) markSeen(chosen);
  }, [chosen, saidAt]);

  const step = (by: number) => {
    const at = chosen ? order.indexOf(chosen) : -1;
    const next = order[Math.min(order.length - 1, Math.max(0, at + by))];
    if (next) choose(next);
  };
  /** On to the lead that hurts most now, other than the one just done. */
  const goOn = () => {
    onAsk(null);
    const next = order.find((id) => id !== chosen);
    if (next && matchMedia("(min-width: 761px)").matches) choose(next);
    else choose(null);
  };
  const lead = sheet?.lead ?? null;
  const ask = (what: OpenDialog) => () => lead && !lead.closed && onAsk(what);
  useKeys({
    arrowdown: () => step(1),
    arrowup: () => step(-1),
    c: () => lead && !lead.closed && placeCall.mutate(lead.id),
    o: ask("outcome"),
    g: ask("give"),
    p: ask("pass"),
    d: ask("defer"),
    m: ask("note"),
    v: ask("park"),
    i: () => sheet?.bells.length && me?.rights.includes("leads.move") && ask("excuse")(),
    b: ask("promise"),
    a: ask("cadence"),
    f: ask("facts"),
    x: ask("close"),
    k: () =>
      lead &&
      me &&
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
    z: () => me?.rehearsal && onAsk("rehearsal"),
    u: () => void (say.undoLast() || say.done("There is nothing to undo here.")),
    escape: () => (channel ? setChannel(null) : choose(null)),
  });
  useTitle(queue);
  if (error && !queue)
    return (
      <Empty title="The queue can't be shown">
        <p>{error.message}</p>
      </Empty>
    );
  if (!queue) return <p className={styles.loading}>Looking at the desk …</p>;
  const wire = queue.bands.filter((b) => b.band === "answer" || b.band === "rung").flatMap((b) => b.items);
  const LeadDialog = asked && asked in LEAD_DIALOGS ? LEAD_DIALOGS[asked as keyof typeof LEAD_DIALOGS] : null;
  return (
    <main className={styles.desk} data-sheet={chosen !== null}>
      <Wire rows={wire} rung={countOf(queue, "rung")} chosen={chosen} onChoose={choose} />
      <div className={styles.panes}>
        <Queue
          queue={queue}
          people={people}
          chosen={chosen}
          onChoose={choose}
          laterOpen={laterOpen}
          onLater={setLaterOpen}
        />
        <Sheet
          leadId={chosen}
          zone={queue.zone}
          onAsk={onAsk}
          channel={channel}
          onChannel={setChannel}
          onBack={() => choose(null)}
        />
      </div>
      <footer className={styles.foot}>
        {queue.quarantined > 0 && (
          <a href="/setup/quarantine" className={styles.held}>
            {queue.quarantined === 1 ? "One inquiry waits" : `${queue.quarantined} inquiries wait`} in
            quarantine
          </a>
        )}
        {me?.rehearsal && (
          <button type="button" onClick={() => onAsk("rehearsal")}>
            <kbd>Z</kbd> rehearsal: play the outside, move time
          </button>
        )}
      </footer>
      {LeadDialog && lead && me && (
        <LeadDialog
          lead={lead}
          me={me}
          zone={queue.zone}
          // A call that has ended with them is what is being logged.
          {...(open?.state === "ended" && open.leadId === lead.id && { call: open })}
          onClose={() => onAsk(null)}
          onDone={goOn}
        />
      )}
      {asked === "facts" && sheet && <FactsDialog sheet={sheet} onClose={() => onAsk(null)} />}
      {asked === "rehearsal" && <RehearsalDrawer onClose={() => onAsk(null)} />}
    </main>
  );
}
