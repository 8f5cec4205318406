import { initials } from "../../core/contact/name.ts";
import styles from "./Diamond.module.css";

interface Props {
  readonly name: string | null;
  /** Filled once somebody has the lead, hollow while it is offered or lies open. */
  readonly filled?: boolean;
  readonly tone?: "brass" | "ember" | "tarn" | "plum" | "ink";
}

/** A person or a lead: a diamond with initials. */
export function Diamond({ name, filled = false, tone = "ink" }: Props) {
  return (
    <svg className={`${styles.diamond} ${styles[tone]}`} viewBox="0 0 32 32" aria-hidden="true">
      <path d="M16 1.5 30.5 16 16 30.5 1.5 16Z" className={filled ? styles.filled : styles.hollow} />
      <text x="16" y="20" textAnchor="middle" className={filled ? styles.onFill : styles.letters}>
        {initials(name)}
      </text>
    </svg>
  );
}
