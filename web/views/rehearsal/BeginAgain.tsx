import { useState } from "react";
import { call } from "../../live/api.ts";
import { Button } from "../../ui/Button.tsx";
import { Dialog } from "../../ui/Dialog.tsx";
import styles from "./Rehearsal.module.css";

const BEGINNINGS = [
  {
    key: "morning",
    name: "The demo’s morning",
    about: "Sixty days of history up to a Wednesday morning. It takes up to half a minute to make.",
  },
  { key: "empty", name: "An empty desk", about: "People, rules and sources, and no lead yet." },
] as const;

/** Throw this rehearsal away and begin another. */
export function BeginAgain() {
  const [asking, setAsking] = useState(false);
  const [making, setMaking] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const begin = async (key: (typeof BEGINNINGS)[number]["key"]) => {
    setMaking(true);
    setProblem(null);
    try {
      await call("POST /rehearsal/begin", { body: { with: key } });
      // Every open window is told by the desk and loads again; this one need not wait for it.
      location.reload();
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
      setMaking(false);
    }
  };
  return (
    <section className={styles.again}>
      <Button onClick={() => setAsking(true)}>Begin again…</Button>
      {asking && (
        <Dialog title="Begin again" onClose={() => !making && setAsking(false)}>
          <p>
            Every lead, message and change of set-up in this rehearsal is thrown away. With what to begin?
          </p>
          <ul className={styles.beginnings}>
            {BEGINNINGS.map(({ key, name, about }) => (
              <li key={key}>
                <Button disabled={making} onClick={() => void begin(key)}>
                  {name}
                </Button>
                <span>{about}</span>
              </li>
            ))}
          </ul>
          {making && <p role="status">Making it … this page loads again on its own.</p>}
          {problem && <p role="alert">{problem}</p>}
        </Dialog>
      )}
    </section>
  );
}
