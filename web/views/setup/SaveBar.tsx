import type { ReactNode } from "react";
import { Button } from "../../ui/Button.tsx";
import styles from "./Setup.module.css";

interface Props {
  readonly saving: boolean;
  readonly onSave: () => void;
  readonly onLeave: () => void;
  /** Another way to put it in force. */
  readonly children?: ReactNode;
}

/** What was changed on a page of Set-up is put in force here, or left as it was. */
export function SaveBar({ saving, onSave, onLeave, children }: Props) {
  return (
    <div className={styles.bar}>
      <Button look="strong" disabled={saving} onClick={onSave}>
        Put in force
      </Button>
      {children}
      <Button look="bare" onClick={onLeave}>
        Leave it as it was
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
