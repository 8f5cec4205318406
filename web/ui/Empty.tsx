import type { ReactNode } from "react";
import styles from "./Empty.module.css";

/** What will appear here, and how to make it happen. */
export function Empty({ title, children }: { readonly title: string; readonly children?: ReactNode }) {
  return (
    <div className={styles.empty}>
      <p className={styles.title}>{title}</p>
      {children}
    </div>
  );
}
