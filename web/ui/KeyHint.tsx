import styles from "./KeyHint.module.css";

/** A key, or several pressed together, as on the keyboard. */
export function KeyHint({ keys }: { readonly keys: string }) {
  return (
    <>
      {keys.split("+").map((key) => (
        <kbd key={key} className={styles.key}>
          {key}
        </kbd>
      ))}
    </>
  );
}
