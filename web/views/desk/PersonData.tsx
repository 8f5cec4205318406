import { useState } from "react";
import { called } from "../../../core/lead/called.ts";
import { dateTime } from "../../../core/time/words.ts";
import { deskNow } from "../../live/clock.ts";
import { useAct } from "../../live/queries.ts";
import { useChange } from "../../live/setup-queries.ts";
import { usePerson } from "../../live/ways-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Field } from "../../ui/Field.tsx";
import type { PersonSummary } from "../../wire/privacy-schemas.ts";
import type { Me, QueueRow } from "../../wire/schemas.ts";
import type { OpenDialog } from "./asked.ts";
import dialogs from "./dialogs.module.css";
import type { LeadDialogProps } from "./dialogs.tsx";
import styles from "./Sheet.module.css";

const several = (n: number, one: string, many = `${one}s`) =>
  `${n.toLocaleString("en")} ${n === 1 ? one : many}`;

/** Everything that is kept of the person behind a lead: handed out, or erased. */
export function PersonDialog({ lead, zone, onClose }: LeadDialogProps) {
  const { data, error } = usePerson(lead.id);
  return (
    <Dialog title={`What is kept of ${called(lead)}`} onClose={onClose}>
      {error && !data && <p>{error.message}</p>}
      {!data && !error && <p>Looking …</p>}
      {data && <Kept data={data} lead={lead} zone={zone} onClose={onClose} />}
    </Dialog>
  );
}

interface KeptProps {
  readonly data: PersonSummary;
  readonly lead: QueueRow;
  readonly zone: string;
  readonly onClose: () => void;
}

function Kept({ data, lead, zone, onClose }: KeptProps) {
  const act = useAct();
  const [because, setBecause] = useState("");
  const { leads, contact, consents, events, messages, inquiries, files, erasure } = data;
  return (
    <div className={dialogs.form}>
      <p>
        {several(leads.length, "lead")}
        {leads.length > 1 && ` (${leads.map((l) => l.who).join(", ")})`}
        {contact && `, the contact ${contact}`}: {several(events, "event")},{" "}
        {several(inquiries, "inquiry", "inquiries")}, {several(messages, "message")} to them,{" "}
        {several(files, "file")}.
      </p>
      {consents.length > 0 && (
        <ul>
          {consents.map((c) => (
            <li key={`${c.at}${c.wording}`}>
              {dateTime(Date.parse(c.at), zone, deskNow())}, {c.source}: “{c.wording}” {c.said}
            </li>
          ))}
        </ul>
      )}
      <p>
        <a href={`/api/v1/leads/${lead.id}/person.zip`} download>
          Download all of it
        </a>
        , to hand to them: a page to read, the same for programs, and every mail, file and recording.
      </p>
      {erasure ? (
        <>
          <p>
            Everything that names them will be erased{" "}
            <b>{dateTime(Date.parse(erasure.dueAt), zone, deskNow())}</b>.
          </p>
          <KeepButton id={erasure.id} name={called(lead)} after={onClose} />
        </>
      ) : (
        <form
          className={dialogs.form}
          onSubmit={(e) => {
            e.preventDefault();
            act.mutate({
              leadId: lead.id,
              act: "erase",
              body: { because },
              said: (after) =>
                `${called(lead)} will be erased ${after.erasing ? dateTime(Date.parse(after.erasing.dueAt), zone, deskNow()) : "tonight"}.`,
            });
            onClose();
          }}
        >
          <p>
            Erasing takes away all that names them, in the night: names, numbers, words, files, recordings,
            also where colleagues wrote of them. Counts stay. Nothing more is sent to them from now on, and
            until the night it can be taken back. Backups made before keep them until they go; Set-up,
            People’s data, says which.
          </p>
          <Field
            label="Why, for colleagues (gone with the rest)"
            value={because}
            maxLength={1000}
            onChange={(e) => setBecause(e.target.value)}
          />
          <div className={dialogs.send}>
            <Button type="submit" look="strong" disabled={act.isPending}>
              Erase them tonight
            </Button>
            <Button look="bare" onClick={onClose}>
              Leave it
            </Button>
          </div>
        </form>
      )}
    </div>
  );
}

/** Somebody who is to be erased is kept after all. */
export function KeepButton({
  id,
  name,
  after,
}: {
  readonly id: string;
  readonly name: string;
  readonly after?: () => void;
}) {
  const change = useChange();
  return (
    <Button
      disabled={change.isPending}
      aria-label={`Keep ${name}`}
      onClick={() =>
        change.mutate({
          call: "POST /privacy/[id]/keep",
          params: { id },
          said: `${name} is kept.`,
          ...(after && { after }),
        })
      }
    >
      Keep them
    </Button>
  );
}

/** That a lead is to be erased, or was; and for those who may, what is kept of a closed one. */
export function ErasingLine({
  lead,
  me,
  zone,
  onAsk,
}: {
  readonly lead: QueueRow;
  readonly me: Me;
  readonly zone: string;
  readonly onAsk: (asked: OpenDialog) => void;
}) {
  const at = (time: string) => dateTime(Date.parse(time), zone, deskNow());
  if (lead.erased)
    return <p className={styles.careful}>Everything that named them was erased {at(lead.erased.at)}.</p>;
  if (!lead.erasing) return null;
  return (
    <p className={styles.careful}>
      Everything that names them will be erased {at(lead.erasing.dueAt)}.{" "}
      {me.rights.includes("privacy") && (
        <Button look="bare" onClick={() => onAsk("person")}>
          Keep them …
        </Button>
      )}
    </p>
  );
}
