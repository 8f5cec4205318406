import type { Trace } from "../wire/schemas.ts";
import styles from "./TraceList.module.css";

const LEAD_IN: Readonly<Record<string, string>> = {
  match: "Known",
  aside: "Household:",
  rule: "Rule",
  choice: "Chosen:",
  rotation: "Turns of",
  target: "Target",
  standby: "Standby:",
  reply: "Reply",
};

/** What belongs under the rule before it. */
const INNER: ReadonlySet<string> = new Set(["candidate", "choice", "rotation"]);

/** A decision as it was thought through: each rule, under it everybody asked, and how the choice fell. */
export function TraceList({ trace }: { readonly trace: Trace }) {
  return (
    <>
      <p className={styles.outcome}>
        {trace.outcome}
        {trace.rules !== undefined && (
          <>
            {" "}
            <a href={`/setup/routing#version-${trace.rules}`}>rules, version {trace.rules}</a>
          </>
        )}
      </p>
      <ol className={styles.steps}>
        {trace.steps.map((step, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a trace never changes
          <li key={i} className={INNER.has(step.kind) ? styles.inner : undefined}>
            <span aria-hidden="true">{step.result === "yes" ? "◆" : "◇"}</span> {LEAD_IN[step.kind] ?? ""}{" "}
            <b>{step.name}</b>: {step.reason}
          </li>
        ))}
      </ol>
    </>
  );
}
