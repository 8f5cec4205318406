import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { OutcomeSetup } from "../../../wire/answering-schemas.ts";
import styles from "../Setup.module.css";

type Next = NonNullable<OutcomeSetup["next"]>;
type Delay = Pick<Next, "days" | "hours" | "skipWeekend" | "at">;

const KINDS = [
  { value: "none", label: "no next step" },
  { value: "call", label: "call" },
  { value: "text", label: "write a text" },
  { value: "email", label: "write an email" },
  { value: "task", label: "do something" },
];

interface Props {
  readonly number: number;
  readonly outcome: OutcomeSetup;
  readonly onChange: (outcome: OutcomeSetup) => void;
  readonly onRemove: () => void;
}

/** A delay in words: `after 3 h`, `after 2 days at 17:00, not on a weekend`. */
export function delayInWords({ days, hours, at, skipWeekend }: Delay): string {
  const parts = [
    days ? `after ${days} ${days === 1 ? "day" : "days"}` : hours ? `after ${hours} h` : at ? "" : "at once",
    at && `at ${at}`,
  ].filter(Boolean);
  return `${parts.join(" ")}${skipWeekend ? ", not on a weekend" : ""}`;
}

/** One outcome: what it means, what it sets next, and when it sets the next step. */
export function OutcomeEditor({ number, outcome, onChange, onRemove }: Props) {
  const { next } = outcome;
  const put = (change: Partial<OutcomeSetup>) => onChange({ ...outcome, ...change });
  const putNext = (change: Partial<Next>) => next && put({ next: { ...next, ...change } });
  const summary = next ? `${next.note}, ${delayInWords(next)}` : "no next step";
  return (
    <details className={styles.outcome} open={outcome.name === ""}>
      <summary>
        <b>
          {number}. {outcome.name || "A new outcome"}
        </b>{" "}
        <span className={styles.quiet}>{summary}</span>
      </summary>
      <div className={styles.fields}>
        <Field label="Name" value={outcome.name} onChange={(e) => put({ name: e.target.value })} />
        <label className={styles.check}>
          <input
            type="checkbox"
            checked={outcome.reached}
            onChange={(e) => put({ reached: e.target.checked })}
          />
          They were reached
        </label>
        <Choice
          label="Next"
          value={next?.kind ?? "none"}
          options={KINDS}
          onChange={(kind) =>
            put({
              next:
                kind === "none"
                  ? null
                  : { ...(next ?? { note: "Call again", days: 1 }), kind: kind as Next["kind"] },
            })
          }
        />
        {next && (
          <Field label="What for" value={next.note} onChange={(e) => putNext({ note: e.target.value })} />
        )}
      </div>
      {next && <DelayFields delay={next} onChange={(d) => putNext(d)} />}
      <p className={styles.row}>
        <span className={styles.quiet}>
          A cadence that begins with this outcome goes before its next step: see{" "}
          <a href="/setup/cadences">Cadences</a>.
        </span>
        {outcome.key !== "sent" && (
          <Button look="bare" aria-label={`Remove ${outcome.name || "the outcome"}`} onClick={onRemove}>
            Remove
          </Button>
        )}
      </p>
    </details>
  );
}

function DelayFields({
  delay,
  onChange,
}: {
  readonly delay: Delay;
  readonly onChange: (delay: Delay) => void;
}) {
  return (
    <div className={styles.row}>
      <Field
        label="Days"
        type="number"
        min={0}
        value={delay.days ?? 0}
        onChange={(e) => onChange({ ...delay, days: Number(e.target.value) })}
      />
      <Field
        label="Hours"
        type="number"
        min={0}
        value={delay.hours ?? 0}
        onChange={(e) => onChange({ ...delay, hours: Number(e.target.value) })}
      />
      <Field
        label="At, desk time"
        type="time"
        value={delay.at ?? ""}
        onChange={(e) => onChange({ ...delay, at: e.target.value || undefined })}
      />
      <label className={styles.check}>
        <input
          type="checkbox"
          checked={delay.skipWeekend ?? false}
          onChange={(e) => onChange({ ...delay, skipWeekend: e.target.checked })}
        />
        Not on a weekend
      </label>
    </div>
  );
}
