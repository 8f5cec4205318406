import { useToday } from "../../live/list-queries.ts";
import styles from "./DeskView.module.css";

/** The day so far in one line, on the Desk; it leads to the whole of it. */
export function DayLine() {
  const { data: day } = useToday(null);
  if (!day) return null;
  const usual = Math.round(day.usual.reduce((sum, n) => sum + n, 0));
  const parts = [
    `${day.cameIn} came in${usual > 0 ? ` (usually ${usual} all day)` : ""}`,
    day.targets > 0 && `${day.inTarget} of ${day.targets} tried in time`,
    `${day.tries} ${day.tries === 1 ? "try" : "tries"}`,
    `${day.reached} talked with`,
    day.lapsed > 0 && `${day.lapsed} lapsed`,
    day.dueLeft !== null && `${day.dueLeft} to zero`,
  ].filter(Boolean);
  return (
    <a href="/today" className={styles.day}>
      <b>Today</b> {parts.join(" · ")}
    </a>
  );
}
