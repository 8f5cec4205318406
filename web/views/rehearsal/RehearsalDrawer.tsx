import { Dialog } from "../../ui/Dialog.tsx";
import { PlayLead, Time } from "./play.tsx";
import styles from "./Rehearsal.module.css";
import { TheirPhone } from "./TheirPhone.tsx";

/** Rehearsal beside the desk: play the lead, move time, and see what the desk does. */
export function RehearsalDrawer({ onClose }: { readonly onClose: () => void }) {
  return (
    <Dialog title="Rehearsal" onClose={onClose} as="drawer">
      <div className={styles.drawer}>
        <Time />
        <TheirPhone />
        <PlayLead />
        <a href="/rehearsal">Open the whole rehearsal: phones, mailboxes, team chat</a>
      </div>
    </Dialog>
  );
}
