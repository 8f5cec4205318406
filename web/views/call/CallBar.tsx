import { Phone, PhoneOff } from "lucide-react";
import { useEffect, useState } from "react";
import { clockTime, counter } from "../../../core/time/words.ts";
import { call as api } from "../../live/api.ts";
import { useCallAct, useOpenCall } from "../../live/call.ts";
import { useNow } from "../../live/clock.ts";
import { useKeys } from "../../live/keys.ts";
import { useMe, useQueue } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Area } from "../../ui/Field.tsx";
import type { OpenCall } from "../../wire/answering-schemas.ts";
import { AskBeside } from "../desk/AskBeside.tsx";
import { OutcomeDialog } from "../desk/OutcomeDialog.tsx";
import styles from "./CallBar.module.css";

/** The call one is in stays in sight in every view; when it has ended, what it came to is asked. */
export function CallBar() {
  const { data: open } = useOpenCall();
  return open ? <Bar key={open.id} open={open} /> : null;
}

const STANDS = {
  "ringing-us": "Your phone rings: pick it up",
  "ringing-them": "Their phone rings",
  talking: "Talking",
  ended: "Ended",
} as const;

/** How long somebody must pause before their notes are kept by the desk (ms). */
const PAUSE = 500;

function Bar({ open }: { readonly open: OpenCall }) {
  const now = useNow();
  const act = useCallAct();
  const { data: me } = useMe();
  const { data: queue } = useQueue();
  const [notes, setNotes] = useState(open.notes);
  useEffect(() => {
    if (notes === open.notes) return;
    const keep = setTimeout(
      () => void api("POST /calls/[id]/notes", { id: open.id, body: { notes } }).catch(() => {}),
      PAUSE,
    );
    return () => clearTimeout(keep);
  }, [notes, open.id, open.notes]);
  const [later, setLater] = useState(false);
  /** Whether the questions lie open, where somebody has said so: else they do while one talks. */
  const [asking, setAsking] = useState<boolean | null>(null);
  const ended = open.state === "ended";
  const hangUp = () => !ended && act.mutate({ id: open.id, act: "hang-up" });
  useKeys({ h: hangUp });
  const since = open.talkedFrom ? now - Date.parse(open.talkedFrom) : 0;
  return (
    <section className={styles.bar} data-state={open.state} aria-label="Call">
      <p className={styles.who}>
        <Phone size={16} aria-hidden="true" />
        <a href={`/?lead=${open.leadId}`}>{open.name ?? open.phone}</a>
        <span>{open.phone}</span>
      </p>
      <p className={styles.stands} role="status">
        {STANDS[open.state]}
        {open.state === "talking" && <b> {counter(Math.max(0, since))}</b>}
        {open.there && <span> · {clockTime(now, open.there)} there</span>}
      </p>
      {open.pinned && <p className={styles.pinned}>{open.pinned}</p>}
      <Area
        label="Notes while talking"
        quiet
        rows={1}
        placeholder="Notes while talking; they go into the thread with the outcome"
        value={notes}
        onChange={(e) => setNotes(e.target.value)}
      />
      {!ended && (
        <Button look="strong" shortcut="H" onClick={hangUp}>
          <PhoneOff size={14} aria-hidden="true" /> Hang up
        </Button>
      )}
      {!ended && (
        <AskBeside leadId={open.leadId} open={asking ?? open.state === "talking"} onOpen={setAsking} />
      )}
      {ended && later && (
        <Button look="strong" onClick={() => setLater(false)}>
          Say what came of it
        </Button>
      )}
      {ended && !later && me && queue && (
        <OutcomeDialog
          lead={{ id: open.leadId, name: open.name ?? open.phone }}
          me={me}
          zone={queue.zone}
          call={{ id: open.id, likely: open.likely, notes, result: open.result, seconds: open.seconds }}
          onClose={() => setLater(true)}
          onAside={() => act.mutate({ id: open.id, act: "done" })}
          onDone={() => {}}
        />
      )}
    </section>
  );
}
