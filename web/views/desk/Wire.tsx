import { useEffect, useRef, useState } from "react";
import { initials } from "../../../core/contact/name.ts";
import { called } from "../../../core/lead/called.ts";
import { duration } from "../../../core/time/words.ts";
import { useNow } from "../../live/clock.ts";
import type { QueueRow } from "../../wire/schemas.ts";
import { BELL, bunch, MARKS, placeOnWire } from "./scale.ts";
import styles from "./Wire.module.css";

interface Props {
  readonly rows: readonly QueueRow[];
  /** How many have rung: as many as the queue says, whether or not all of them are among the rows. */
  readonly rung: number;
  readonly chosen: string | null;
  readonly onChoose: (id: string) => void;
}

/** What hangs on a wire. */
export interface Kite {
  readonly id: string;
  readonly name: string | null;
  /** What it is called, and who has it, in words. */
  readonly called: string;
  readonly holder: string;
  readonly taken: boolean;
  readonly rung: boolean;
  readonly tries: number;
  /** How long until its bell (ms), negative once it has rung. */
  readonly left: number;
}

const HEIGHT = 96;
const LINE = 26;
const KITE = 13;

/** How long until a lead's bell (ms), negative once it has rung; null for what hangs on no bell. */
function leftOf({ bell, rungSince }: QueueRow, now: number): number | null {
  const at = bell.state === "waiting" || bell.state === "rung" ? bell.dueAt : rungSince;
  return at === null ? null : Date.parse(at) - now;
}

/** The wire: every lead that waits for a human hangs on it and drifts toward the bell. */
export function Wire({ rows, rung, chosen, onChoose }: Props) {
  const now = useNow();
  const kites = rows.flatMap((row): Kite[] => {
    const left = leftOf(row, now);
    if (left === null) return [];
    const { id, name, holder, tries } = row;
    return [
      {
        id,
        name,
        called: called(row),
        holder,
        tries,
        left,
        taken: row.ownerId !== null,
        rung: row.place === "rung",
      },
    ];
  });
  const waiting = rows.filter((r) => r.bell.state === "waiting").length;
  return (
    <WireDrawing
      label="The wire"
      kites={kites}
      waiting={waiting}
      rung={rung}
      chosen={chosen}
      onChoose={onChoose}
    />
  );
}

interface DrawingProps {
  readonly label: string;
  readonly kites: readonly Kite[];
  readonly waiting: number;
  readonly rung: number;
  readonly chosen: string | null;
  readonly onChoose: (id: string) => void;
}

/** A wire with its marks, its bell and what hangs on it. */
export function WireDrawing({ label, kites, waiting, rung, chosen, onChoose }: DrawingProps) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1280);
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);
  const groups = bunch(
    kites.map((kite) => ({ kite, at: placeOnWire(kite.left) * width })),
    2 * KITE + 4,
  );
  const order = groups.flat().map((k) => k.kite.id);
  const walk = (event: React.KeyboardEvent) => {
    const step = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    if (!step || order.length === 0) return;
    event.preventDefault();
    event.stopPropagation();
    const at = chosen ? order.indexOf(chosen) : -1;
    onChoose(order[(at + step + order.length) % order.length]!);
  };
  const wait =
    waiting === 0 ? "Nobody waits for a call" : `${waiting} ${waiting === 1 ? "waits" : "wait"} for a call`;
  const said = rung === 0 ? `${wait}.` : `${wait}, ${rung} ${rung === 1 ? "has" : "have"} rung.`;
  return (
    <section className={styles.wire} ref={box} aria-label={label}>
      <p className={styles.said}>{said}</p>
      <svg
        width={width}
        height={HEIGHT}
        className={styles.drawing}
        onKeyDown={walk}
        role="toolbar"
        aria-label="Waiting leads by time to the bell"
      >
        <rect x={BELL * width} y="0" width={width - BELL * width} height={HEIGHT} className={styles.over} />
        <line x1="0" x2={width} y1={LINE} y2={LINE} className={styles.line} />
        {MARKS.map(({ at, label }) => (
          <g key={label} transform={`translate(${at * width} 0)`}>
            <line y1={LINE - 4} y2={LINE + 4} className={styles.line} />
            <text
              y={LINE - 10}
              textAnchor={at < 0.1 ? "start" : "middle"}
              x={at < 0.1 ? -8 : 0}
              className={styles.mark}
            >
              {label}
            </text>
          </g>
        ))}
        <g transform={`translate(${BELL * width} 0)`}>
          <line y1="0" y2={HEIGHT} className={styles.bell} />
          <text x="-8" y={LINE - 10} textAnchor="end" className={styles.now}>
            bell
          </text>
          <text x="8" y={LINE - 10} className={styles.rung}>
            rung{rung > 0 ? ` ${rung}` : ""}
          </text>
        </g>
        {groups.map((group) => (
          <Bunch
            key={group[0]!.kite.id}
            group={group}
            chosen={chosen}
            first={order[0] ?? null}
            onChoose={onChoose}
          />
        ))}
      </svg>
    </section>
  );
}

interface BunchProps {
  readonly group: readonly { readonly kite: Kite; readonly at: number }[];
  readonly chosen: string | null;
  readonly first: string | null;
  readonly onChoose: (id: string) => void;
}

/** One kite, or several that hang at one place: the most pressing in front, with their count. */
function Bunch({ group, chosen, first, onChoose }: BunchProps) {
  const inside = group.find((k) => k.kite.id === chosen);
  const { kite } = inside ?? group.at(-1)!;
  const { left, taken } = kite;
  const at = group.reduce((sum, k) => sum + k.at, 0) / group.length;
  const tone = kite.rung ? styles.ember : left < 120_000 ? styles.brass : styles.calm;
  const more = group.length > 1 ? ` and ${group.length - 1} more here` : "";
  const label = `${kite.called}, ${left < 0 ? `${duration(left)} over` : `${duration(left)} left`}, ${kite.holder}${more}`;
  const y = LINE + 12 + KITE;
  const tail = y + KITE;
  const node = useRef<SVGGElement>(null);
  const isChosen = kite.id === chosen;
  useEffect(() => {
    if (isChosen && document.activeElement?.closest("svg") === node.current?.closest("svg"))
      node.current?.focus();
  }, [isChosen]);
  return (
    // biome-ignore lint/a11y/useSemanticElements: a kite is drawn in SVG, where there is no button
    <g
      ref={node}
      role="button"
      tabIndex={isChosen || (!chosen && kite.id === first) ? 0 : -1}
      aria-label={label}
      aria-pressed={isChosen}
      transform={`translate(${at} 0)`}
      className={`${styles.kite} ${tone} ${isChosen ? styles.chosen : ""}`}
      onClick={() => onChoose(kite.id)}
      onKeyDown={(event) => {
        if (event.key === "Enter" || event.key === " ") {
          event.preventDefault();
          onChoose(kite.id);
        }
      }}
    >
      <title>{label}</title>
      <line y1={LINE} y2={y - KITE} className={styles.string} />
      {group.length > 1 && (
        <path
          d={`M4 ${y - KITE} l${KITE} ${KITE} l-${KITE} ${KITE} l-${KITE} -${KITE}Z`}
          className={styles.behind}
        />
      )}
      <path
        d={`M0 ${y - KITE} l${KITE} ${KITE} l-${KITE} ${KITE} l-${KITE} -${KITE}Z`}
        className={taken ? styles.filled : styles.hollow}
      />
      <text y={y + 4} textAnchor="middle" className={taken ? styles.onFill : styles.letters}>
        {initials(kite.name)}
      </text>
      <path d={`M0 ${tail} q-5 5 0 9 q4 4 0 8`} className={styles.tail} />
      {Array.from({ length: Math.min(3, kite.tries) }, (_, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: knots have no identity but their place
        <circle key={i} cx={i % 2 ? 2 : -2} cy={tail + 4 + i * 5} r="2" className={styles.knot} />
      ))}
      {group.length > 1 && (
        <g transform={`translate(0 ${LINE + 3})`}>
          <rect x="-11" y="-8" width="22" height="15" rx="7.5" className={styles.pill} />
          <text y="4" textAnchor="middle" className={styles.count}>
            {group.length}
          </text>
        </g>
      )}
    </g>
  );
}
