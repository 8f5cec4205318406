import type { ReactNode } from "react";
import styles from "./Scrolls.module.css";

/** What may be wider than the page, and scrolls by itself; reached by keyboard. */
export function Scrolls({
  label,
  most,
  children,
}: {
  readonly label: string;
  /** How high it is at most (px); as high as what it holds where left out. */
  readonly most?: number;
  readonly children: ReactNode;
}) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
    <section className={styles.scrolls} aria-label={label} tabIndex={0} style={{ maxHeight: most }}>
      {children}
    </section>
  );
}
