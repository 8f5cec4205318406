import { useState } from "react";
import { inDays } from "../../../core/time/defer.ts";
import { readWhen } from "../../../core/time/read-when.ts";
import { dayTime, zoneName } from "../../../core/time/words.ts";
import { deskNow } from "../../live/clock.ts";
import { useChange } from "../../live/setup-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import { Field } from "../../ui/Field.tsx";
import { KeyHint } from "../../ui/KeyHint.tsx";
import styles from "../desk/dialogs.module.css";
import { pickByNumber } from "../desk/dialogs.tsx";

interface Props {
  /** Who goes off duty; null when it is oneself. */
  readonly person: { readonly id: string; readonly name: string } | null;
  /** The zone of their own hours: until when is said in it. */
  readonly zone: string;
  readonly onClose: () => void;
}

const HOUR = 3_600_000;

/** Go off duty until a time, or until one says so. */
export function DutyDialog({ person, zone, onClose }: Props) {
  const change = useChange();
  const [words, setWords] = useState("");
  const now = deskNow();
  const own = words ? readWhen(words, now, zone) : null;
  const placed = (at: number) => `${dayTime(at, zone, now)} ${zoneName(at, zone)}`;
  const choices: readonly { readonly name: string; readonly until: number | null }[] = [
    { name: person ? "Until somebody brings them back" : "Until I come back", until: null },
    { name: "For an hour", until: now + HOUR },
    { name: "Until tomorrow", until: inDays(now, zone, { days: 1, at: "00:00" }) },
  ];
  const go = (until: number | null) => {
    const who = person ? `${person.name} is` : "You are";
    const body = { off: true, ...(until && { until: new Date(until).toISOString() }) };
    const said = `${who} off duty${until ? ` until ${placed(until)}` : ""}: nothing is offered meanwhile.`;
    if (person)
      change.mutate({ call: "POST /setup/people/[id]/duty", params: { id: person.id }, body, said });
    else change.mutate({ call: "POST /me/duty", body, said });
    onClose();
  };
  return (
    <Dialog
      title={person ? `Send ${person.name} off duty` : "Go off duty"}
      onClose={onClose}
      onKeyDown={pickByNumber(choices.length, (i) => go(choices[i]!.until))}
    >
      <ol className={styles.list}>
        {choices.map(({ name, until }, i) => (
          <li key={name}>
            <button type="button" className={styles.option} onClick={() => go(until)}>
              <KeyHint keys={String(i + 1)} />
              <span>{name}</span>
              <small>{until ? placed(until) : ""}</small>
            </button>
          </li>
        ))}
      </ol>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          if (own !== null) go(own);
        }}
      >
        <Field
          label={`Or until, in ${person ? "their" : "your"} time (${zoneName(now, zone)})`}
          placeholder="14:00, tomorrow 10, mon"
          value={words}
          error={
            words && own === null ? "Not understood. Write it like “14:00” or “tomorrow 10”." : undefined
          }
          help={own ? `That is ${placed(own)}.` : undefined}
          onChange={(e) => setWords(e.target.value)}
        />
        <div className={styles.send}>
          <Button type="submit" disabled={own === null}>
            Off duty until then
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
