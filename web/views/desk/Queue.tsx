import { type ReactNode, useEffect, useRef } from "react";
import { called } from "../../../core/lead/called.ts";
import { dayTime } from "../../../core/time/words.ts";
import { useNow } from "../../live/clock.ts";
import { useMe } from "../../live/queries.ts";
import { useIsNew } from "../../live/seen.ts";
import { Diamond } from "../../ui/Diamond.tsx";
import type { Person, Queue as QueueData, QueueRow } from "../../wire/schemas.ts";
import styles from "./Queue.module.css";
import { BAND_EMPTY, BAND_NAMES, lastSaid, standing, urgency } from "./words.ts";

interface Props {
  readonly queue: QueueData;
  readonly people: readonly Person[];
  readonly chosen: string | null;
  readonly onChoose: (id: string) => void;
  readonly laterOpen: boolean;
  readonly onLater: (open: boolean) => void;
  /** Whether only some of the queue is asked for: an empty band then says nothing of the desk. */
  readonly only: boolean;
  /** What stands above the bands. */
  readonly children: ReactNode;
}

/** The day's work in its order, cut into bands. */
export function Queue({ queue, people, chosen, onChoose, laterOpen, onLater, only, children }: Props) {
  return (
    <section className={styles.queue} aria-label="Queue">
      {children}
      {queue.bands.map(({ band, count, items }) => {
        const folded = band === "later" && !laterOpen;
        return (
          <section key={band} className={styles.band} data-band={band} aria-label={BAND_NAMES[band]}>
            <h2 className={styles.head}>
              {band === "later" ? (
                <button
                  type="button"
                  className={styles.fold}
                  aria-expanded={laterOpen}
                  onClick={() => onLater(!laterOpen)}
                >
                  {laterOpen ? "▾" : "▸"} {BAND_NAMES[band]}
                </button>
              ) : (
                BAND_NAMES[band]
              )}
              <span className={styles.count}>{count}</span>
            </h2>
            {!folded && count === 0 && (
              <p className={styles.empty}>{only ? "None of these." : BAND_EMPTY[band]}</p>
            )}
            {!folded && items.length > 0 && (
              <ul className={styles.rows}>
                {items.map((row) => (
                  <Row
                    key={row.id}
                    row={row}
                    zone={queue.zone}
                    people={people}
                    chosen={row.id === chosen}
                    onChoose={onChoose}
                  />
                ))}
              </ul>
            )}
            {!folded && items.length > 0 && count > items.length && (
              <p className={styles.empty}>and {count - items.length} more; the search finds them all.</p>
            )}
          </section>
        );
      })}
    </section>
  );
}

interface RowProps {
  readonly row: QueueRow;
  readonly zone: string;
  readonly people: readonly Person[];
  readonly chosen: boolean;
  readonly onChoose: (id: string) => void;
}

function Row({ row, zone, people, chosen, onChoose }: RowProps) {
  const now = useNow();
  const urgent = urgency(row, now);
  const tone = urgent?.tone ?? "calm";
  const isNew = useIsNew(row);
  const { data: me } = useMe();
  const node = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (chosen) node.current?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  return (
    <li>
      <button
        ref={node}
        type="button"
        className={chosen ? styles.chosen : styles.row}
        data-lead={row.id}
        aria-current={chosen}
        onClick={() => onChoose(row.id)}
      >
        <span className={`${styles.time} ${styles[tone]}`}>
          {urgent ? (
            <>
              <span className={styles.figure} aria-hidden="true">
                {urgent.over ? "+" : ""}
                {urgent.figure} <small>{urgent.word}</small>
              </span>
              <span className={styles.hidden}>{urgent.said}.</span>
              <span className={styles.track} aria-hidden="true">
                <span style={{ width: `${Math.round(urgent.full * 100)}%` }} />
              </span>
            </>
          ) : (
            <span className={styles.figure}>no step</span>
          )}
        </span>
        <Diamond name={row.name} filled={row.ownerId !== null} tone={tone === "calm" ? "ink" : tone} />
        <span className={styles.who}>
          <span className={styles.first}>
            {isNew && <em className={styles.fresh}>new</em>} <b>{called(row)}</b>{" "}
            {row.replyWaiting && (
              <em className={styles.reply}>{row.callBack ? "call back" : "reply waiting"}</em>
            )}
            {row.product}
          </span>
          <span className={styles.second}>
            <Words row={row} />
          </span>
        </span>
        <span
          className={styles.stands}
          data-own={(row.ownerId !== null && row.ownerId === me?.id) || undefined}
        >
          <span className={styles.holder}>{standing(row, people, now)}</span>
          <span className={styles.second}>
            {row.nextStep
              ? `${row.nextStep.note}, ${dayTime(Date.parse(row.nextStep.dueAt), zone, now)}`
              : row.source}
          </span>
        </span>
        <Knots tries={row.tries} />
      </button>
    </li>
  );
}

/** What they said last; else what they wrote first. */
function Words({ row }: { readonly row: QueueRow }) {
  const said = lastSaid(row);
  if (said && row.said?.text) return `“${said}”`;
  if (said) return said;
  return row.facts.message ? `“${row.facts.message}”` : (row.company ?? "No message");
}

/** One knot for each try so far. */
function Knots({ tries }: { readonly tries: number }) {
  const words = tries === 0 ? "no try yet" : tries === 1 ? "1 try" : `${tries} tries`;
  return (
    <span className={styles.knots} title={words}>
      <span className={styles.hidden}>{words}</span>
      <svg viewBox="0 0 44 12" aria-hidden="true">
        <line x1="0" x2="44" y1="6" y2="6" />
        {Array.from({ length: Math.min(5, tries) }, (_, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: knots have no identity but their place
          <circle key={i} cx={5 + i * 8} cy="6" r="2.5" />
        ))}
        {tries > 5 && <circle cx="41" cy="6" r="2.5" className={styles.many} />}
      </svg>
    </span>
  );
}
