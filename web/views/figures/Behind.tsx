import { useState } from "react";
import { dayTime } from "../../../core/time/words.ts";
import { useNow } from "../../live/clock.ts";
import { type BehindAsked, useBehind } from "../../live/figure-queries.ts";
import { useQueue } from "../../live/queries.ts";
import { Dialog } from "../../ui/Dialog.tsx";
import styles from "./Figures.module.css";

interface Figure {
  /** What the figure is about, in words. */
  readonly what: string;
  readonly asked: BehindAsked;
}

export function useBehindFigure() {
  const [behind, setBehind] = useState<Figure | null>(null);
  return { behind, open: setBehind, close: () => setBehind(null) };
}

/** The leads a figure counts. */
export function Behind({ what, asked, onClose }: Figure & { readonly onClose: () => void }) {
  const { data, error } = useBehind(asked);
  const { data: queue } = useQueue();
  const now = useNow();
  return (
    <Dialog title={what} onClose={onClose}>
      {error && <p role="alert">{error.message}</p>}
      {!data && !error && <p className={styles.loading}>Looking them up …</p>}
      {data && (
        <>
          <p className={styles.note}>
            {data.n === 0
              ? "No lead."
              : `${data.n === 1 ? "1 lead" : `${data.n.toLocaleString("en")} leads`}: ${data.said}.`}
            {data.n > data.items.length && ` The latest ${data.items.length} are shown.`}
          </p>
          <ul className={styles.leads}>
            {data.items.map(({ leadId, name, came }) => (
              <li key={leadId}>
                <a href={`/leads?lead=${leadId}`}>{name}</a>
                <time dateTime={came}>{queue ? dayTime(Date.parse(came), queue.zone, now) : ""}</time>
              </li>
            ))}
          </ul>
        </>
      )}
    </Dialog>
  );
}
