import { useState } from "react";
import { called } from "../../../core/lead/called.ts";
import { usePickedUp } from "../../live/calls.ts";
import { useMe, useQueue, useSheet } from "../../live/queries.ts";
import { useKeptTyping } from "../../live/setup-draft.ts";
import { Button } from "../../ui/Button.tsx";
import { OutcomeDialog } from "../desk/OutcomeDialog.tsx";

import styles from "./CallBar.module.css";

/**
 * A call somebody of ours has answered announces itself, in every view, and takes nothing out of their hands: what it
 * came to is said when they have a hand free, and stays asked for until it is.
 */
export function PickedUp() {
  const { data: me } = useMe();
  const { data: queue } = useQueue();
  const [{ leadId }, keep, forget] = useKeptTyping<{ leadId: string | null }>("picked-up", { leadId: null });
  const { data: sheet } = useSheet(leadId);
  const [asked, setAsked] = useState(false);
  usePickedUp(me?.id, (id) => keep({ leadId: id }));
  if (!leadId || !me || !queue) return null;
  const lead = sheet?.lead;
  const done = () => {
    keep({ leadId: null });
    forget();
    setAsked(false);
  };
  return (
    <section className={styles.bar} data-state="talking" aria-label="Call you answered">
      <p className={styles.who}>
        <a href={`/?lead=${leadId}`}>{lead ? called(lead) : "Their lead"}</a>
      </p>
      <p className={styles.stands} role="status">
        You answered their call.
      </p>
      <Button look="strong" onClick={() => setAsked(true)}>
        Say what came of it
      </Button>
      <Button look="bare" onClick={done}>
        Nothing to log
      </Button>
      {asked && lead && (
        <OutcomeDialog lead={lead} me={me} zone={queue.zone} onClose={() => setAsked(false)} onDone={done} />
      )}
    </section>
  );
}
