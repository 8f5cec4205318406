import { useRef } from "react";
import { Button } from "./Button.tsx";
import styles from "./Copy.module.css";
import { useSay } from "./Toasts.tsx";

/** Something to take along: shown whole, copied with one press, or marked where the browser lets nobody copy. */
export function Copy({ text, label }: { readonly text: string; readonly label: string }) {
  const shown = useRef<HTMLElement>(null);
  const say = useSay();
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
      say.done("Copied.");
    } catch {
      // Without HTTPS there is no clipboard: marked, it is one key away.
      if (shown.current) getSelection()?.selectAllChildren(shown.current);
      say.done("Marked: copy it with Ctrl C.");
    }
  };
  return (
    <span className={styles.copy}>
      <code ref={shown}>{text}</code>
      <Button aria-label={`Copy ${label}`} onClick={() => void copy()}>
        Copy
      </Button>
    </span>
  );
}
