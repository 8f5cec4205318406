import { useQueryClient } from "@tanstack/react-query";
import { readablePhone } from "../../../core/contact/readable-phone.ts";
import { call } from "../../live/api.ts";
import { useOnTheLine } from "../../live/call.ts";
import { Button } from "../../ui/Button.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import styles from "./Rehearsal.module.css";

const RINGING = [
  { does: "answer", name: "Answer" },
  { does: "voicemail", name: "Let voicemail answer" },
  { does: "busy", name: "Be busy" },
  { does: "no-answer", name: "Don’t answer" },
] as const;

type Plays = (typeof RINGING)[number]["does"] | "hang-up";

/** The lead's phone while the desk calls it: play what happens. */
export function TheirPhone() {
  const client = useQueryClient();
  const say = useSay();
  const { data = [] } = useOnTheLine();
  const play = async (callId: string, does: Plays) => {
    try {
      await call("POST /rehearsal/phone", { body: { callId, does } });
    } catch (error) {
      say.wrong(error instanceof Error ? error.message : String(error));
    }
    void client.invalidateQueries({ queryKey: ["phones"] });
  };
  return data.map(({ id, them, state }) => (
    <section key={id} className={styles.rings} aria-label="Their phone">
      <p>
        <b>{readablePhone(them)}</b> {state === "talking" ? "is in a call with us." : "rings."}
      </p>
      <div className={styles.moves}>
        {state === "talking" ? (
          <Button onClick={() => void play(id, "hang-up")}>Hang up</Button>
        ) : (
          RINGING.map(({ does, name }) => (
            <Button key={does} onClick={() => void play(id, does)}>
              {name}
            </Button>
          ))
        )}
      </div>
    </section>
  ));
}
