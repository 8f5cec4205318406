import type { ButtonHTMLAttributes, ReactNode } from "react";
import styles from "./Button.module.css";
import { Tooltip } from "./Tooltip.tsx";

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  /** `strong` for the one thing to do now, `plain` beside it, `bare` for small acts in text. */
  readonly look?: "strong" | "plain" | "bare";
  /** The key that does the same, shown on hover. */
  readonly shortcut?: string;
  /** What it does, in the tooltip, when the label alone does not say. */
  readonly hint?: string;
  readonly children: ReactNode;
}

/** Something to press. */
export function Button({
  look = "plain",
  shortcut,
  hint,
  className,
  children,
  type = "button",
  ...rest
}: Props) {
  const button = (
    <button
      type={type}
      className={`${styles.button} ${styles[look] ?? ""} ${className ?? ""}`}
      aria-keyshortcuts={shortcut}
      {...rest}
    >
      {children}
    </button>
  );
  return shortcut || hint ? (
    <Tooltip text={hint ?? ""} shortcut={shortcut}>
      {button}
    </Tooltip>
  ) : (
    button
  );
}
