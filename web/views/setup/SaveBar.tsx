import type { ReactNode } from "react";
import { useLeaving } from "../../live/setup-draft.ts";
import { Button } from "../../ui/Button.tsx";
import styles from "./Setup.module.css";

interface Props<T> {
  readonly saving: boolean;
  readonly onSave: () => void;
  /** What was changed, and how to go back to what is in force. */
  readonly draft: T;
  readonly onDraft: (next: T | null) => void;
  /** Another way to put it in force. */
  readonly children?: ReactNode;
}

/** What was changed on a page of Set-up is put in force here, or left as it was. */
export function SaveBar<T>({ saving, onSave, draft, onDraft, children }: Props<T>) {
  const leave = useLeaving(draft, onDraft);
  return (
    <div className={styles.bar}>
      <Button look="strong" disabled={saving} onClick={onSave}>
        Put in force
      </Button>
      {children}
      <Button look="bare" onClick={leave}>
        Discard changes
      </Button>
    </div>
  );
}

/** In a dialog of such a page: kept with the rest of what was changed. */
export function KeepRow() {
  return (
    <div className={styles.row}>
      <Button type="submit" look="strong">
        Keep
      </Button>
      <span className={styles.quiet}>It holds once the page is put in force.</span>
    </div>
  );
}
