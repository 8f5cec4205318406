import styles from "./hidden.module.css";

/** The head of a column of buttons: read aloud, and never seen. */
export function ActsHead() {
  return (
    <th>
      <span className={styles.hidden}>What can be done</span>
    </th>
  );
}
