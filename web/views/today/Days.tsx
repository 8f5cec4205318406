import { dateBeside } from "../../../core/time/words.ts";
import { Button } from "../../ui/Button.tsx";
import type { Today } from "../../wire/list-schemas.ts";
import styles from "./Today.module.css";

/** To the day before and after, and to any day. */
export function Days({
  day,
  onDate,
}: {
  readonly day: Pick<Today, "date" | "live">;
  readonly onDate: (date: string | null) => void;
}) {
  return (
    <p className={styles.days}>
      <Button aria-label="The day before" onClick={() => onDate(dateBeside(day.date, -1))}>
        ‹
      </Button>
      <input
        type="date"
        aria-label="Day"
        value={day.date}
        onChange={(e) => e.target.value && onDate(e.target.value)}
      />
      <Button aria-label="The day after" disabled={day.live} onClick={() => onDate(dateBeside(day.date, 1))}>
        ›
      </Button>
      {!day.live && (
        <Button look="bare" onClick={() => onDate(null)}>
          Today
        </Button>
      )}
    </p>
  );
}
