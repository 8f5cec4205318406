import { useQueryClient } from "@tanstack/react-query";
import { clockTime, localDate } from "../../../core/time/words.ts";
import { call } from "../../live/api.ts";
import { useNow } from "../../live/clock.ts";
import { useMyDay } from "../../live/list-queries.ts";
import { useQueue } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import { Days } from "./Days.tsx";
import styles from "./Today.module.css";

interface Props {
  readonly date: string | null;
  /** Where nothing else on the page says which day it is. */
  readonly onDate?: (date: string | null) => void;
}

/** What I did, the newest first, with a way back where there still is one. */
export function MyDay({ date, onDate }: Props) {
  const { data, error } = useMyDay(date);
  const { data: queue } = useQueue();
  const now = useNow();
  const client = useQueryClient();
  const say = useSay();
  if (!queue) return null;
  const today = localDate(now, queue.zone);
  const shown = date ?? today;
  const undo = async (leadId: string, actId: string, name: string) => {
    try {
      await call("POST /leads/[id]/undo", { id: leadId, body: { actId } });
      say.done(`${name} is as before.`);
    } catch (problem) {
      say.wrong(problem instanceof Error ? problem.message : String(problem));
    }
    void client.invalidateQueries();
  };
  return (
    <section className={styles.mine} aria-label="My day">
      <h2>My day</h2>
      {onDate && <Days day={{ date: shown, live: shown === today }} onDate={onDate} />}
      {error && <p role="alert">{error.message}</p>}
      {data?.items.length === 0 && <p className={styles.none}>Nothing is written down of you on this day.</p>}
      <ol>
        {data?.items.map(({ leadId, name, at, said, actId }) => (
          <li key={`${leadId}${at}${said}`}>
            <time dateTime={at}>{clockTime(Date.parse(at), queue.zone)}</time>
            <a href={`/?lead=${leadId}`}>{name}</a>
            <span>{said}</span>
            {actId && (
              <Button look="bare" onClick={() => void undo(leadId, actId, name)}>
                Undo
              </Button>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}
