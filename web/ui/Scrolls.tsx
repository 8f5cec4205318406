import type { ReactNode } from "react";
import styles from "./Scrolls.module.css";

/** What may be wider than the page, and scrolls by itself; reached by keyboard. */
export function Scrolls({ label, children }: { readonly label: string; readonly children: ReactNode }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
    <section className={styles.scrolls} aria-label={label} tabIndex={0}>
      {children}
    </section>
  );
}
