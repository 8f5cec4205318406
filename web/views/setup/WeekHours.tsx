import { Button } from "../../ui/Button.tsx";
import { Field } from "../../ui/Field.tsx";
import styles from "./people/People.module.css";
import setup from "./Setup.module.css";

const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
type Span = [string, string];

/** A weekly pattern in a zone. */
export interface WeekPattern {
  readonly zone: string;
  readonly week: Record<string, Span[]>;
}

interface HoursProps {
  readonly hours: WeekPattern;
  /** What a day without hours is called. */
  readonly off: string;
  readonly onChange: (hours: WeekPattern) => void;
}

/** When somebody or the desk is there, day by day: several stretches a day, copied from the day before with one press. */
export function WeekHours({ hours, off, onChange }: HoursProps) {
  const set = (day: string, spans: Span[]) => {
    const week = { ...hours.week, [day]: spans };
    if (spans.length === 0) delete week[day];
    onChange({ ...hours, week });
  };
  return (
    <div className={styles.hours}>
      <span className={setup.quiet}>Zone</span>
      <Field
        label="Time zone"
        quiet
        list="zones"
        value={hours.zone}
        onChange={(e) => onChange({ ...hours, zone: e.target.value })}
      />
      <datalist id="zones">
        {Intl.supportedValuesOf("timeZone").map((zone) => (
          <option key={zone} value={zone} />
        ))}
      </datalist>
      {DAYS.map((name, i) => {
        const day = String(i + 1);
        const spans = (hours.week[day] ?? []) as Span[];
        return (
          <Day
            key={day}
            name={name}
            spans={spans}
            off={off}
            onChange={(next) => set(day, next)}
            {...(i > 0 && {
              onCopy: () => set(day, structuredClone((hours.week[String(i)] ?? []) as Span[])),
            })}
          />
        );
      })}
    </div>
  );
}

interface DayProps extends SpansProps {
  readonly onCopy?: () => void;
}

function Day({ name, spans, off, onChange, onCopy }: DayProps) {
  return (
    <>
      <span className={setup.quiet}>{name}</span>
      <span className={styles.spans}>
        <DaySpans name={name} spans={spans} off={off} onChange={onChange} />
        {onCopy && spans.length === 0 && (
          <Button look="bare" aria-label={`${name} like the day before`} onClick={onCopy}>
            Like the day before
          </Button>
        )}
      </span>
    </>
  );
}

interface SpansProps {
  readonly name: string;
  readonly spans: readonly Span[];
  readonly off: string;
  readonly onChange: (spans: Span[]) => void;
}

/** The stretches of one day. */
export function DaySpans({ name, spans, off, onChange }: SpansProps) {
  return (
    <>
      {spans.map(([open, close], i) => {
        const put = (next: Span) => onChange(spans.map((s, j) => (i === j ? next : s)));
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a stretch has nothing but its place to be told by
          <span key={i} className={styles.span}>
            <Field
              label={`${name} from`}
              quiet
              type="time"
              value={open}
              onChange={(e) => put([e.target.value, close])}
            />
            to
            <Field
              label={`${name} to`}
              quiet
              type="time"
              value={close}
              onChange={(e) => put([open, e.target.value])}
            />
            <Button
              look="bare"
              aria-label={`Remove ${name} ${open}`}
              onClick={() => onChange(spans.filter((_, j) => i !== j))}
            >
              ×
            </Button>
          </span>
        );
      })}
      {spans.length === 0 && <span className={setup.quiet}>{off}</span>}
      <Button
        look="bare"
        aria-label={`Add hours on ${name}`}
        onClick={() => onChange([...spans, spans.length ? ["13:00", "17:00"] : ["08:00", "17:00"]])}
      >
        Add
      </Button>
    </>
  );
}
