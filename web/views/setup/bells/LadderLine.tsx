import { dateTime, duration } from "../../../../core/time/words.ts";
import { useDrawnLadder, useHours } from "../../../live/bells-queries.ts";
import type { Ladder, Target } from "../../../wire/bells-schemas.ts";
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
  /** Where the lead is; nowhere known when left out. */
  readonly zone?: string;
}

/** A ladder as a line from the arrival to its last rung, a knot each, with the true times of a bell that begins now. */
export function LadderLine({ ladder, target, groups, plans, zone = "" }: Props) {
  const { data: hours } = useHours();
  const { data: drawn } = useDrawnLadder(target, ladder, zone);
  if (!hours || !drawn) return null;
  const start = Date.parse(drawn.from);
  const rungs = drawn.rungs.map(({ at, ...rung }) => ({ rung, at: Date.parse(at) }));
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
