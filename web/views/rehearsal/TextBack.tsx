import { useState } from "react";
import { call } from "../../live/api.ts";
import { Button } from "../../ui/Button.tsx";
import { Field } from "../../ui/Field.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import styles from "./Rehearsal.module.css";

interface Props {
  /** Whose phone it is, by name. */
  readonly name: string;
  /** Their number, and the line they text back to. */
  readonly from: string;
  readonly to: string;
}

/** One of ours texts back: “1” takes what was offered, “2” passes it on. */
export function TextBack({ name, from, to }: Props) {
  const say = useSay();
  const [body, setBody] = useState("");
  const send = async () => {
    try {
      await call("POST /rehearsal/text", { body: { from, to, body } });
      say.done(`${name} texted “${body}”.`);
      setBody("");
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <form
      className={styles.textBack}
      onSubmit={(event) => {
        event.preventDefault();
        void send();
      }}
    >
      <Field
        label={`Text back as ${name}`}
        value={body}
        placeholder="1 takes it, 2 passes"
        onChange={(e) => setBody(e.target.value)}
      />
      <Button type="submit" disabled={!body.trim()}>
        Text back
      </Button>
    </form>
  );
}
