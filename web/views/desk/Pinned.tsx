import { Pin } from "lucide-react";
import { useState } from "react";
import { useAct } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Field } from "../../ui/Field.tsx";
import type { QueueRow } from "../../wire/schemas.ts";
import styles from "./Pinned.module.css";

/** What one should know when dialling: one line beside the number, edited where it stands. */
export function Pinned({ lead }: { readonly lead: QueueRow }) {
  const act = useAct();
  const [writing, setWriting] = useState<string | null>(null);
  const save = () => {
    act.mutate({
      leadId: lead.id,
      act: "pin",
      body: { text: writing ?? "" },
      said: writing?.trim() ? "Pinned beside the number." : "Nothing is pinned any more.",
      undoable: false,
    });
    setWriting(null);
  };
  if (writing === null)
    return (
      <p className={styles.pinned} data-empty={!lead.pinned}>
        <button type="button" onClick={() => setWriting(lead.pinned ?? "")}>
          <Pin size={14} aria-hidden="true" />
          {lead.pinned ?? "Pin a note for callers"}
        </button>
      </p>
    );
  return (
    <form
      className={styles.form}
      onSubmit={(event) => {
        event.preventDefault();
        save();
      }}
      onKeyDown={(event) => event.key === "Escape" && setWriting(null)}
    >
      <Field
        label="Know when calling"
        quiet
        autoFocus
        maxLength={200}
        placeholder="Twins start school in autumn, call before eight"
        value={writing}
        onChange={(e) => setWriting(e.target.value)}
      />
      <Button type="submit">Pin</Button>
      <Button look="bare" onClick={() => setWriting(null)}>
        Cancel
      </Button>
    </form>
  );
}

const NAMES = { text: "texts", email: "mails", call: "calls" } as const;

/** Ways they asked not to be reached by; what one of us marked can be lifted here. */
export function Stops({ lead }: { readonly lead: QueueRow }) {
  const act = useAct();
  return lead.stops.map(({ channel, how, said }) => (
    <p key={channel} className={styles.stop}>
      No {NAMES[channel]}:{" "}
      {how === "word"
        ? `they wrote “${said}”`
        : how === "unsubscribe"
          ? "they unsubscribed"
          : said || "marked by one of us"}
      .
      {how === "person" && (
        <Button
          look="bare"
          onClick={() =>
            act.mutate({
              leadId: lead.id,
              act: "stops",
              body: { channel, stop: false },
              said: `They may be reached by ${channel} again.`,
              undoable: false,
            })
          }
        >
          Lift
        </Button>
      )}
    </p>
  ));
}
