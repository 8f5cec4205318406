import { useState } from "react";
import { called } from "../../../core/lead/called.ts";
import { readWhen } from "../../../core/time/read-when.ts";
import { bothTimes, dateTime } from "../../../core/time/words.ts";
import { deskNow } from "../../live/clock.ts";
import { useAct, useSheet } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Field } from "../../ui/Field.tsx";
import styles from "./dialogs.module.css";
import type { LeadDialogProps } from "./dialogs.tsx";

/** Set the lead aside, with a reason and a slow plan: no person's time goes into it until it does something. */
export function ParkDialog({ lead, zone, onClose, onDone }: LeadDialogProps) {
  const act = useAct();
  const { data: sheet } = useSheet(lead.id);
  const plans = sheet?.slowPlans ?? [];
  const [reason, setReason] = useState("");
  const [plan, setPlan] = useState<string | null>(null);
  const [words, setWords] = useState("");
  const now = deskNow();
  const until = words ? readWhen(words, now, zone) : null;
  const unclear = words !== "" && until === null;
  const chosen = plan ?? plans[0]?.id ?? "";
  return (
    <Dialog title={`Park ${called(lead)}`} onClose={onClose}>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          if (unclear) return;
          act.mutate({
            leadId: lead.id,
            act: "park",
            body: {
              reason,
              planId: chosen || null,
              ...(until && { until: new Date(until).toISOString() }),
            },
            said: `${called(lead)} is parked. They come back when they write, call or visit.`,
          });
          onDone();
        }}
      >
        <Field
          label="Reason, shown when it comes back"
          value={reason}
          placeholder="Builds next spring"
          onChange={(e) => setReason(e.target.value)}
        />
        <Choice
          label="What happens meanwhile"
          value={chosen}
          options={[
            ...plans.map((p) => ({ value: p.id, label: p.name })),
            { value: "", label: "Nothing, and no next look" },
          ]}
          onChange={setPlan}
        />
        <Field
          label="Until a day, desk time"
          placeholder="until they do something; or: 1 may, in 3 months"
          value={words}
          error={unclear ? "Not understood. Write it like “1 may” or “in 3 months”." : undefined}
          help={
            until
              ? `That is ${dateTime(until, zone, now)}: ${lead.ownerId ? "whoever has it now has it back then, with a call to make" : "it goes on the manager’s list then"}.`
              : undefined
          }
          onChange={(e) => setWords(e.target.value)}
        />
        <div className={styles.send}>
          <Button type="submit" look="strong" disabled={!reason.trim() || unclear}>
            Park
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** Nothing need be done about what rings, and why. */
export function ExcuseDialog({ lead, onClose }: LeadDialogProps) {
  const act = useAct();
  const [reason, setReason] = useState("");
  return (
    <Dialog title={`Silence the bell of ${called(lead)}`} onClose={onClose}>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          act.mutate({ leadId: lead.id, act: "excuse", body: { reason }, said: "It rings no more." });
          onClose();
        }}
      >
        <Field
          label="Why nothing need be done"
          value={reason}
          placeholder="Talked to them at the show"
          onChange={(e) => setReason(e.target.value)}
        />
        <div className={styles.send}>
          <Button type="submit" look="strong" disabled={!reason.trim()}>
            Silence it
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** What they were told and for when; or when they asked to be called. A bell rings at that time. */
export function PromiseDialog({ lead, zone, onClose }: LeadDialogProps) {
  const act = useAct();
  const [text, setText] = useState("we call today");
  const [said, setSaid] = useState("17:00");
  const now = deskNow();
  const { data: sheet } = useSheet(lead.id);
  const theirs = sheet?.theirZone ?? zone;
  const at = readWhen(said, now, theirs);
  const agreed = at === null ? "" : bothTimes(at, theirs, zone, now);
  const iso = at === null ? "" : new Date(at).toISOString();
  return (
    <Dialog title={`A time for ${called(lead)}`} onClose={onClose}>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          if (at === null) return;
          act.mutate({
            leadId: lead.id,
            act: "promise",
            body: { text, at: iso },
            said: `Promised for ${agreed}: it rings then.`,
          });
          onClose();
        }}
      >
        <Field
          label="When, their time"
          value={said}
          placeholder="tomorrow 10, fri 9:30, in 2 h"
          help={at === null ? "Write it as “tomorrow 10” or “fri 9:30”." : `That is ${agreed}.`}
          onChange={(e) => setSaid(e.target.value)}
        />
        <Field label="What they were promised" value={text} onChange={(e) => setText(e.target.value)} />
        <div className={styles.send}>
          <Button
            disabled={at === null}
            hint="Nobody calls before that: the bell of the inquiry moves there"
            onClick={() => {
              act.mutate({
                leadId: lead.id,
                act: "asked-for",
                body: { at: iso },
                said: `They are called ${agreed}; the bell waits until then.`,
                undoable: false,
              });
              onClose();
            }}
          >
            They asked for that time
          </Button>
          <Button type="submit" look="strong" disabled={at === null || !text.trim()}>
            We promised it
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
