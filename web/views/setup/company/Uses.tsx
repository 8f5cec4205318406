import styles from "../Setup.module.css";

/** How many places are named before the rest is counted. */
const NAMED = 2;

/** Where something is used: what is used can't be removed, and here stands why. */
export function Uses({ of }: { readonly of: readonly string[] }) {
  if (of.length === 0) return <span className={styles.quiet}>nobody</span>;
  const rest = of.length - NAMED;
  return (
    <span className={styles.quiet} title={of.join("\n")}>
      {of.slice(0, NAMED).join(", ")}
      {rest > 0 && ` and ${rest} more`}
    </span>
  );
}
