import { calendarAround } from "../../../core/policy/people.ts";
import { addOpen, type Hours } from "../../../core/time/calendar.ts";
import { dateTime, duration } from "../../../core/time/words.ts";
import { useHours } from "../../live/bells-queries.ts";
import type { Ladder, Target } from "../../wire/bells-schemas.ts";
import styles from "./Bells.module.css";
import { rungSaid, rungWhen } from "./bell-words.ts";

interface Named {
  readonly id: string;
  readonly name: string;
}

interface Props {
  readonly ladder: Ladder;
  /** Whose minutes are drawn. */
  readonly target: Target;
  readonly groups: readonly Named[];
  readonly plans: readonly Named[];
  /** When the sample begins (epoch ms); now when left out. */
  readonly from?: number;
}

const RING = { fraction: 1, plusMinutes: 0, act: "ring" } as const;

/** A ladder as a line from the arrival to its last rung, a knot each, with the true times of a sample. */
export function LadderLine({ ladder, target, groups, plans, from }: Props) {
  const { data: hours } = useHours();
  if (!hours) return null;
  const start = from ?? Date.parse(hours.now);
  const calendar = calendarAround(hours as unknown as Hours, start);
  const after = (minutes: number) => {
    const ms = Math.round(minutes * 60_000);
    return target.clock === "wall" ? start + ms : addOpen(calendar, start, ms);
  };
  const rungs = [RING, ...ladder.rungs]
    .map((rung) => ({ rung, at: after(target.minutes * rung.fraction + rung.plusMinutes) }))
    .sort((a, b) => a.at - b.at);
  const when = (at: number) => dateTime(at, hours.zone, start);
  return (
    <ol className={styles.line} aria-label={`Rungs of ${ladder.name}`}>
      <li className={styles.knot} data-act="start">
        <span className={styles.mark} aria-hidden="true" />
        <b>{when(start)}</b>
        <span>{target.about ? "It begins" : "It comes in"}</span>
      </li>
      {rungs.map(({ rung, at }, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rungs have no name of their own
        <li key={i} className={styles.knot} data-act={rung.act}>
          <span className={styles.mark} aria-hidden="true" />
          <b>{when(at)}</b>
          <span>{rungSaid(rung, groups, plans)}</span>
          <small>
            {rungWhen(rung)}
            {at - start > 60_000 && `, ${duration(at - start)} after it began`}
          </small>
        </li>
      ))}
    </ol>
  );
}
