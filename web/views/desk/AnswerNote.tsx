import { useState } from "react";
import { useAct } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Field } from "../../ui/Field.tsx";
import styles from "./AnswerNote.module.css";

/** Answer what a colleague asked, where it is read. */
export function AnswerNote({ leadId, noteId }: { readonly leadId: string; readonly noteId: string }) {
  const act = useAct();
  const [typed, setTyped] = useState<string | null>(null);
  if (typed === null)
    return (
      <Button look="bare" onClick={() => setTyped("")}>
        Answer
      </Button>
    );
  return (
    <form
      className={styles.form}
      onSubmit={(event) => {
        event.preventDefault();
        if (!typed.trim()) return;
        act.mutate({
          leadId,
          act: "notes/[note]/answer",
          note: noteId,
          body: { text: typed },
          said: "Answered; whoever asked hears of it.",
          undoable: false,
        });
        setTyped(null);
      }}
    >
      <Field label="Your answer" quiet autoFocus value={typed} onChange={(e) => setTyped(e.target.value)} />
      <Button type="submit" disabled={!typed.trim()}>
        Answer
      </Button>
    </form>
  );
}
