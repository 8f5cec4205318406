import { useParking } from "../../../live/bells-queries.ts";
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
  readonly closeReasons: readonly string[];
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

/** One outcome: what it means, what it sets next, and where a row of fruitless tries ends. */
export function OutcomeEditor({ number, outcome, closeReasons, onChange, onRemove }: Props) {
  const { next } = outcome;
  const put = (change: Partial<OutcomeSetup>) => onChange({ ...outcome, ...change });
  const putNext = (change: Partial<Next>) => next && put({ next: { ...next, ...change } });
  const summary = !next
    ? "no next step"
    : next.series
      ? `${next.series.map(delayInWords).join("; ")}; then ${afterLast(next.last)}`
      : `${next.note}, ${delayInWords(next)}`;
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
      {next && !next.series && <DelayFields delay={next} onChange={(d) => putNext(d)} />}
      {next?.series && (
        <Series next={next} closeReasons={closeReasons} onChange={(change) => putNext(change)} />
      )}
      <p className={styles.row}>
        {next && !outcome.reached && (
          <Button
            onClick={() => {
              const { series, last, ...rest } = next;
              put({
                next: series
                  ? rest
                  : {
                      ...rest,
                      series: [delayOf(rest)],
                      last: { does: "list", reason: "every planned try was made" },
                    },
              });
            }}
          >
            {next.series ? "The same after every try" : "Different after each try in a row"}
          </Button>
        )}
        {outcome.key !== "sent" && (
          <Button look="bare" aria-label={`Remove ${outcome.name || "the outcome"}`} onClick={onRemove}>
            Remove
          </Button>
        )}
      </p>
    </details>
  );
}

const delayOf = ({ days, hours, skipWeekend, at }: Delay): Delay => ({
  ...(days !== undefined && { days }),
  ...(hours !== undefined && { hours }),
  ...(skipWeekend && { skipWeekend }),
  ...(at && { at }),
});

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

interface SeriesProps {
  readonly next: Next;
  readonly closeReasons: readonly string[];
  readonly onChange: (change: Partial<Next>) => void;
}

/** What happens after the last planned try, in words. */
function afterLast(last: Next["last"]): string {
  if (last?.does === "close") return `close: ${last.reason}`;
  return last?.does === "park" ? "park it" : "to the manager’s list";
}

/** A delay for each try in a row that reached nobody, and what happens after the last. */
function Series({ next, closeReasons, onChange }: SeriesProps) {
  const { data: parking } = useParking();
  const series = next.series ?? [];
  const { last } = next;
  return (
    <>
      {series.map((delay, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a try has nothing but its place to be told by
        <div key={i} className={styles.row}>
          <span>After try {i + 1}</span>
          <DelayFields
            delay={delay}
            onChange={(d) => onChange({ series: series.map((x, j) => (i === j ? d : x)) })}
          />
          <Button
            look="bare"
            aria-label={`Remove try ${i + 1}`}
            onClick={() => onChange({ series: series.filter((_, j) => i !== j) })}
          >
            Remove
          </Button>
        </div>
      ))}
      <div className={styles.row}>
        <Button onClick={() => onChange({ series: [...series, { days: 1 }] })}>One more try</Button>
        <Choice
          label="After the last"
          value={
            last?.does === "close"
              ? `close:${last.reason}`
              : last?.does === "park"
                ? `park:${last.planId ?? ""}`
                : "list"
          }
          options={[
            { value: "list", label: "to the manager’s list" },
            ...(parking?.slowPlans ?? []).map((p) => ({ value: `park:${p.id}`, label: `park: ${p.name}` })),
            { value: "park:", label: "park, with no next look" },
            ...closeReasons.map((reason) => ({ value: `close:${reason}`, label: `close: ${reason}` })),
          ]}
          onChange={(v) => {
            const [does = "list", which = ""] = v.split(/:(.*)/s);
            const made = "every planned try was made";
            onChange({
              last:
                does === "close"
                  ? { does, reason: which }
                  : does === "park"
                    ? { does, reason: made, ...(which && { planId: which }) }
                    : { does: "list", reason: made },
            });
          }}
        />
      </div>
    </>
  );
}
