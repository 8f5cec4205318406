import { useEffect, useMemo, useRef, useState } from "react";
import { App } from "../../frame/App.tsx";
import { type Put, useInAddress } from "../../live/address.ts";
import { useKeys } from "../../live/keys.ts";
import { useMe, usePeople, useQueue, useSheet } from "../../live/queries.ts";
import { markSeen } from "../../live/seen.ts";
import { Empty } from "../../ui/Empty.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import type { Queue as QueueData } from "../../wire/schemas.ts";
import { RehearsalDrawer } from "../rehearsal/RehearsalDrawer.tsx";
import type { OpenDialog } from "./asked.ts";
import { DayLine } from "./DayLine.tsx";
import styles from "./DeskView.module.css";
import { LeadPane } from "./LeadPane.tsx";
import { Queue } from "./Queue.tsx";
import { QueueFilter } from "./QueueFilter.tsx";
import { Wire } from "./Wire.tsx";

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
  const [who, setWho] = useInAddress("who");
  const [source, setSource] = useInAddress("from");
  const { data: queue, error } = useQueue({ later: laterOpen, who, source });
  // How the whole desk stands is told whatever is looked at.
  const { data: whole } = useQueue();
  const filter = useRef<HTMLFieldSetElement>(null);
  const { data: people = [] } = usePeople();
  const { data: me } = useMe();
  const { data: sheet } = useSheet(chosen);
  const say = useSay();
  const order = useMemo(() => queue?.bands.flatMap((b) => b.items.map((r) => r.id)) ?? [], [queue]);
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
    if (next) onChoose(next);
  };
  /** On to the lead that hurts most now, other than the one just done. */
  const goOn = () => {
    onAsk(null);
    const next = order.find((id) => id !== chosen);
    if (next && matchMedia("(min-width: 761px)").matches) onChoose(next);
    else onChoose(null);
  };
  useKeys({
    arrowdown: () => step(1),
    arrowup: () => step(-1),
    l: () => filter.current?.querySelector<HTMLElement>("button, select")?.focus(),
    z: () => me?.rehearsal && onAsk("rehearsal"),
    u: () => void (say.undoLast() || say.done("There is nothing to undo here.")),
  });
  useTitle(whole);
  if (error && !queue)
    return (
      <Empty title="The queue can't be shown">
        <p>{error.message}</p>
      </Empty>
    );
  if (!queue) return <p className={styles.loading}>Looking at the desk …</p>;
  const all = whole ?? queue;
  const wire = all.bands.filter((b) => b.band === "answer" || b.band === "rung").flatMap((b) => b.items);
  return (
    <main className={styles.desk} data-sheet={chosen !== null}>
      <Wire rows={wire} rung={countOf(all, "rung")} chosen={chosen} onChoose={onChoose} />
      <div className={styles.panes}>
        <Queue
          queue={queue}
          people={people}
          chosen={chosen}
          onChoose={onChoose}
          laterOpen={laterOpen}
          onLater={setLaterOpen}
          only={who !== null || source !== null}
        >
          <QueueFilter
            who={who}
            source={source}
            onWho={setWho}
            onSource={setSource}
            sources={queue.sources}
            people={me?.rights.includes("leads.all") ? people : []}
            first={filter}
          />
        </Queue>
        <LeadPane
          leadId={chosen}
          zone={queue.zone}
          asked={asked}
          onAsk={onAsk}
          onDone={goOn}
          onBack={() => onChoose(null)}
        />
      </div>
      <footer className={styles.foot}>
        {queue.quarantined > 0 && (
          <a href="/setup/quarantine" className={styles.held}>
            {queue.quarantined === 1 ? "One inquiry waits" : `${queue.quarantined} inquiries wait`} in
            quarantine
          </a>
        )}
        {me?.rights.includes("leads.all") && <DayLine />}
        {me?.rehearsal && (
          <button type="button" onClick={() => onAsk("rehearsal")}>
            <kbd>Z</kbd> rehearsal: play the outside, move time
          </button>
        )}
      </footer>
      {asked === "rehearsal" && <RehearsalDrawer onClose={() => onAsk(null)} />}
    </main>
  );
}
